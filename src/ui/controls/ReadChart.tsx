'use client';
import { Box, useTheme, type SxProps, type Theme } from '@mui/material';
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  type ChartConfiguration,
} from 'chart.js';
import { useEffect, useRef } from 'react';
import { FONT } from '../theme/tokens';

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
);

export interface ChartData {
  readonly labels: readonly string[];
  readonly rows: readonly {
    readonly values: readonly (number | null)[];
    /** Dashes of a line, so that lines differ by more than their ink. */ readonly dash?: readonly number[];
  }[];
  readonly low?: number;
  readonly high?: number;
}

/** A chart that is read, not ridden: renewed once a second. @param label - says in words what it shows, for who cannot see it */
export function ReadChart({
  kind,
  label,
  read,
  unit,
  everyMs = 1000,
  sx,
}: {
  readonly kind: 'bar' | 'line';
  readonly label: string;
  readonly read: () => ChartData;
  readonly unit: string;
  readonly everyMs?: number;
  readonly sx?: SxProps<Theme>;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(read);
  useEffect(() => {
    latest.current = read;
  });
  const theme = useTheme();
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const ink = getComputedStyle(element).color;
    const font = { family: FONT.number, size: 13 };
    const config: ChartConfiguration = {
      type: kind,
      data: { labels: [], datasets: [] },
      options: {
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        events: [],
        scales: {
          x: {
            ticks: { color: ink, font, maxRotation: 0, autoSkipPadding: 16 },
            grid: { display: false },
            border: { color: ink },
          },
          y: {
            ticks: { color: ink, font, maxTicksLimit: 4 },
            grid: { color: `color-mix(in srgb, ${ink} 18%, transparent)` },
            border: { display: false },
            title: { display: unit !== '', text: unit, color: ink, font },
          },
        },
      },
    };
    const chart = new Chart(element, config);
    const renew = (): void => {
      const { labels, rows, low, high } = latest.current();
      chart.data.labels = [...labels];
      chart.data.datasets = rows.map(({ values, dash }) => ({
        data: [...values],
        backgroundColor: ink,
        borderColor: ink,
        borderWidth: kind === 'line' ? 2 : 0,
        pointRadius: 0,
        ...(kind === 'line' && { borderDash: [...(dash ?? [])], spanGaps: true }),
        ...(kind === 'bar' && { barPercentage: 1, categoryPercentage: 0.92 }),
      })) as typeof chart.data.datasets;
      const y = chart.options.scales!.y!;
      if (low === undefined) delete y.min;
      else y.min = low;
      if (high === undefined) delete y.max;
      else y.max = high;
      chart.update('none');
    };
    renew();
    const timer = setInterval(renew, everyMs);
    return () => {
      clearInterval(timer);
      chart.destroy();
    };
  }, [kind, unit, everyMs, theme]);
  return (
    <Box sx={[{ position: 'relative', height: 110 }, ...(Array.isArray(sx) ? sx : [sx])]}>
      <canvas ref={canvas} role="img" aria-label={label} />
    </Box>
  );
}
