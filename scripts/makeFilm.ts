/** Makes the short film of the example shows anew: tsx scripts/makeFilm.ts. The result is kept with the project, so nobody has to. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { startServer, visit } from '../e2e/support';

const server = await startServer();
const v = await visit(server.url, { autoplay: true });
const data = await v.page.evaluate(async () => {
  const canvas = document.createElement('canvas'),
    g = canvas.getContext('2d')!,
    w = (canvas.width = 384),
    h = (canvas.height = 216);
  const recorder = new MediaRecorder(canvas.captureStream(25), {
      mimeType: 'video/webm;codecs=vp8',
      videoBitsPerSecond: 220000,
    }),
    parts: Blob[] = [];
  recorder.ondataavailable = (e) => {
    parts.push(e.data);
  };
  const over = new Promise((done) => {
    recorder.onstop = done;
  });
  recorder.start();
  // The wake runs away from the stern; after four seconds it is where it was.
  const from = performance.now(),
    last = 4000;
  for (;;) {
    const t = (performance.now() - from) / last;
    if (t >= 1) break;
    g.fillStyle = '#12212c';
    g.fillRect(0, 0, w, h);
    for (let i = 0; i < 12; i++) {
      const near = ((i + t * 6) % 12) / 12,
        y = h * (0.3 + 0.7 * near * near),
        wide = 20 + 260 * near;
      g.strokeStyle = i % 2 ? '#6db5a9' : '#f2e9d4';
      g.lineWidth = 1 + 7 * near;
      for (const side of [-1, 1]) {
        g.beginPath();
        g.moveTo(w / 2 + side * wide * 0.16, y);
        g.quadraticCurveTo(
          w / 2 + side * wide * 0.5,
          y + 5 * Math.sin(i),
          w / 2 + side * wide,
          y + 12 * near,
        );
        g.stroke();
      }
    }
    g.fillStyle = '#0b0a0a';
    g.fillRect(0, 0, w, h * 0.27);
    g.fillStyle = '#f0b53c';
    for (let i = 0; i < 7; i++) g.fillRect(30 + i * 52, h * 0.2, 5, 5);
    g.fillStyle = '#e8572a';
    g.fillRect(w / 2 - 46, h * 0.27 - 8, 92, 10);
    await new Promise((r) => setTimeout(r, 40));
  }
  recorder.stop();
  await over;
  const bytes = new Uint8Array(await new Blob(parts).arrayBuffer());
  let text = '';
  for (const b of bytes) text += String.fromCharCode(b);
  return btoa(text);
});
mkdirSync('public/examples', { recursive: true });
writeFileSync('public/examples/wake.webm', Buffer.from(data, 'base64'));
console.log(`public/examples/wake.webm: ${Math.round((data.length * 3) / 4096)} KB`);
await v.close();
await server.stop();
