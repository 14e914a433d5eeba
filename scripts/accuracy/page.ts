/** The report as a page that one would show, and its figures as a document. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import type { MusicShown } from './music';
import type { Figure } from './report';

const FILE = '.cache/accuracy/report.html';
const COLUMNS = ['any', 'kick', 'snare', 'hat', 'missed'] as const;

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const shownValue = ({ value, unit }: Figure): string =>
  `${Number.isFinite(value) ? value : '–'} ${unit}`.trim();

/** Whether a figure meets its aim; null where it has none that can be read. */
export function meets({ value, aim }: Pick<Figure, 'value' | 'aim'>): boolean | null {
  const [, sign, number] = /^([≥≤<>]?) ?(-?[\d.]+)$/.exec(aim) ?? [];
  if (number === undefined || !Number.isFinite(value)) return null;
  const n = Number(number);
  return sign === '≥'
    ? value >= n
    : sign === '≤'
      ? value <= n
      : sign === '<'
        ? value < n
        : sign === '>'
          ? value > n
          : value === n;
}

function commit(): string {
  try {
    return execFileSync('git', ['rev-parse', '--short', 'HEAD'], { encoding: 'utf8' }).trim();
  } catch {
    return 'unknown';
  }
}

/** Shares of a time error's histogram, a millisecond a bar, from −20 to 20. */
export function histogram(off: readonly number[]): number[] {
  const bars = new Array<number>(41).fill(0);
  for (const ms of off) bars[Math.max(0, Math.min(40, Math.round(ms) + 20))]!++;
  return bars.map((n) => Math.round((10000 * n) / Math.max(1, off.length)) / 10000);
}

/** Writes the page. @returns where */
export function writePage(figures: readonly Figure[], shown: MusicShown | null, date: Date): string {
  const chart = readFileSync(
    path.join(path.dirname(createRequire(import.meta.url).resolve('chart.js')), 'chart.umd.js'),
    'utf8',
  );
  const groups = [...new Set(figures.map((f) => f.group))],
    table = (g: string): string =>
      `<table>${figures
        .filter((f) => f.group === g)
        .map((f) => {
          const met = meets(f);
          return `<tr${met === false ? ' class="short"' : ''}><th scope="row">${escaped(f.figure)}</th><td>${shownValue(f)}</td><td>${escaped(f.aim)}</td><td>${met === null ? '' : met ? 'met' : 'not met'}</td></tr>`;
        })
        .join('')}</table>`;
  const confusion = Object.entries(shown?.confusion ?? {})
    .map(
      ([name, rows]) =>
        `<table><caption>${escaped(name)}: of true strokes, the share heard as</caption><tr><td></td>${COLUMNS.map((c) => `<th scope="col">${c}</th>`).join('')}</tr>${rows
          .map((row, i) => {
            const n = Math.max(1, row[COLUMNS.length]!);
            return `<tr><th scope="row">${COLUMNS[i]}</th>${row
              .slice(0, COLUMNS.length)
              .map(
                (x) =>
                  `<td style="background:rgb(47 127 134 / ${(x / n).toFixed(2)})">${Math.round((100 * x) / n)} %</td>`,
              )
              .join('')}</tr>`;
          })
          .join('')}</table>`,
    )
    .join('');
  const data = JSON.stringify({
    off: Object.entries(shown?.off ?? {}).map(([label, off]) => ({ label, data: histogram(off) })),
    phase: shown?.phase ?? [],
  }).replace(/</g, '\\u003c');
  const page = `<!doctype html><html lang="en"><meta charset="utf-8"><title>Batucada: how right the listening is</title>
<style>body{font:16px/1.5 sans-serif;max-width:1100px;margin:2rem auto;padding:0 1rem;background:#1d1a24;color:#efe4cd}
table{border-collapse:collapse;margin:1rem 0}th,td{padding:.2rem .7rem;text-align:left;border-bottom:1px solid #4a4453;font-weight:400}
td:nth-child(2){text-align:right}.short td{color:#f2b632}caption{text-align:left;padding:.5rem 0}.wide{display:grid;grid-template-columns:1fr 1fr;gap:1rem}canvas{background:#24202d}</style>
<h1>How right the listening is</h1><p>${date.toISOString().slice(0, 10)}, commit ${commit()}. Unknown kinds of music were kept out of tuning altogether.</p>
${shown ? `<p>Not there to be played: ${escaped(shown.absent.join('; ') || 'nothing')}.</p>` : ''}
${shown ? `<h2>When a stroke is said to have been, against when it was</h2><canvas id="off" height="90"></canvas><h2>What strokes are taken for</h2><div class="wide">${confusion}</div><h2>Where beats are heard in the beat that is true</h2><p>0 is right, ½ is halfway between two beats.</p><div class="wide" id="phases"></div>` : ''}
${groups.map((g) => `<h2>${escaped(g)}</h2>${table(g)}`).join('')}
<script>${chart}</script><script>
const { off, phase } = ${data};
Chart.defaults.color = '#efe4cd'; Chart.defaults.borderColor = '#4a4453'; Chart.defaults.animation = false;
const inks = ['#f2b632', '#2f7f86', '#e2452b', '#b7a6d9'];
if (off.length) new Chart('off', { type: 'bar', data: { labels: Array.from({ length: 41 }, (_, i) => i - 20), datasets: off.map((d, i) => ({ ...d, backgroundColor: inks[i % 4] })) }, options: { scales: { x: { title: { display: true, text: 'ms' } }, y: { title: { display: true, text: 'share' } } } } });
for (const p of phase) {
  const box = document.createElement('div'), c = document.createElement('canvas');
  box.append(c); document.getElementById('phases').append(box);
  new Chart(c, { type: 'scatter', data: { datasets: [{ label: p.name, data: p.points.map(([x, y]) => ({ x, y })), backgroundColor: '#f2b632', pointRadius: 2 }] }, options: { scales: { x: { title: { display: true, text: 's' } }, y: { min: -0.5, max: 0.5 } } } });
}
</script></html>`;
  mkdirSync(path.dirname(FILE), { recursive: true });
  writeFileSync(FILE, page);
  return FILE;
}

/** Writes the figures as a document that is kept. */
export function writeDocument(figures: readonly Figure[], absent: readonly string[], date: Date): void {
  const rows = (g: string): string =>
    figures
      .filter((f) => f.group === g)
      .map((f) => {
        const met = meets(f);
        return `| ${f.figure} | ${shownValue(f)} | ${f.aim} | ${met === null ? '' : met ? 'met' : '**not met**'} |`;
      })
      .join('\n');
  const words = `# How right the listening is

Written by \`npm run accuracy -- --write\` on ${date.toISOString().slice(0, 10)} at commit ${commit()}. *Unknown* kinds of music (accompaniment styles, fonts, kits, dance rules, rooms, voices) were kept out of tuning altogether, by name; *known* ones are of kinds that were tuned on, though no piece here was. What counts is *unknown*. Times are of the sound, not of a clock.
${absent.length ? `\nNot there to be measured: ${absent.join('; ')}.\n` : ''}
${[...new Set(figures.map((f) => f.group))].map((g) => `## ${g}\n\n| figure | value | aim | |\n| --- | --- | --- | --- |\n${rows(g)}\n`).join('\n')}`;
  writeFileSync('docs/accuracy.md', words);
}
