/** What stands in for a camera when there is none: the far bank through a glass, drawn, and never still. @param time - seconds */
export function drawStandIn(g: OffscreenCanvasRenderingContext2D, time: number): void {
  const { width: w, height: h } = g.canvas;
  const beam = (time * 0.35) % (2 * Math.PI);
  g.fillStyle = '#1d3340';
  g.fillRect(0, 0, w, h);
  g.fillStyle = '#345063';
  for (let i = 0; i < 9; i++)
    g.fillRect((i * 83 + 20) % w, 12 + ((i * 37) % (h * 0.4)), 26 + ((i * 13) % 40), 1.5);
  g.fillStyle = '#f2e9d4';
  g.beginPath();
  g.arc(w * 0.22, h * 0.26, h * 0.1, 0, 7);
  g.fill();
  // The light on the far bank turns.
  g.fillStyle = `rgba(240,181,60,${(0.25 + 0.35 * Math.max(0, Math.cos(beam))).toFixed(3)})`;
  g.beginPath();
  g.moveTo(w * 0.72, h * 0.34);
  g.lineTo(w * 0.72 + w * Math.sin(beam), h * 0.1);
  g.lineTo(w * 0.72 + w * Math.sin(beam), h * 0.52);
  g.fill();
  g.fillStyle = '#0b0a0a';
  g.beginPath();
  g.moveTo(0, h * 0.62);
  for (let i = 0; i <= 12; i++)
    g.lineTo((i / 12) * w, h * (0.56 - 0.07 * Math.sin(i * 1.9) - 0.03 * Math.sin(i * 4.1)));
  g.lineTo(w, h * 0.7);
  g.lineTo(0, h * 0.7);
  g.fill();
  g.fillStyle = '#e8572a';
  g.fillRect(w * 0.705, h * 0.3, w * 0.03, h * 0.26);
  g.fillStyle = '#f0b53c';
  g.fillRect(w * 0.7, h * 0.29, w * 0.04, h * 0.05);
  for (let i = 0; i < 7; i++) {
    const y = h * (0.66 + i * 0.055);
    g.fillStyle = i % 2 ? '#6db5a9' : '#2c5a63';
    g.beginPath();
    g.moveTo(0, h);
    for (let x = 0; x <= w; x += 8)
      g.lineTo(x, y + 3 * Math.sin(x / (16 + i * 4) + time * (1.2 + i * 0.24) * (i % 2 ? 1 : -1)));
    g.lineTo(w, h);
    g.fill();
  }
  const x = ((time * 14) % (w + 80)) - 40,
    y = h * 0.72 + 2 * Math.sin(time * 2);
  g.fillStyle = '#f2e9d4';
  g.beginPath();
  g.moveTo(x - 22, y);
  g.lineTo(x + 22, y);
  g.lineTo(x + 14, y + 10);
  g.lineTo(x - 15, y + 10);
  g.fill();
  g.fillStyle = '#efd6a4';
  g.beginPath();
  g.moveTo(x, y - 34);
  g.lineTo(x, y - 2);
  g.lineTo(x + 20, y - 2);
  g.fill();
}
