/** Speech for reports and tuning: espeak-ng from Debian's packages where it is there, else the ferry's own host without words. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { readWav } from '../../src/core/audio/wav';
import { seeded } from '../../src/core/random';

export const hasSpeech = (): boolean => existsSync('/usr/bin/espeak-ng');

const SENTENCES: Readonly<Record<string, readonly string[]>> = {
  en: [
    'Good evening on deck, the last crossing of the season begins.',
    'Mind the step by the funnel.',
    'We pass the lighthouse in a few minutes, and the band will play again.',
    'Who has seen my hat?',
    'The river is calm tonight, and the lanterns are lit.',
    'Please keep the gangway clear. Thank you.',
    'Yes. No. Perhaps tomorrow.',
    'Nineteen people went ashore at the old pier, and four came back.',
  ],
  de: [
    'Guten Abend an Deck, die letzte Fahrt der Saison beginnt.',
    'Bitte Vorsicht an der Treppe.',
    'Wer hat meinen Hut gesehen?',
    'Der Fluss ist heute ruhig und die Laternen brennen.',
  ],
  fr: [
    'Bonsoir sur le pont, la dernière traversée commence.',
    'Attention à la marche.',
    'Le fleuve est calme ce soir et les lanternes sont allumées.',
  ],
  es: [
    'Buenas noches en cubierta, empieza el último viaje.',
    'Cuidado con el escalón.',
    'El río está tranquilo y los faroles están encendidos.',
  ],
  pt: [
    'Boa noite no convés, a última travessia vai começar.',
    'Cuidado com o degrau.',
    'O rio está calmo e as lanternas estão acesas.',
  ],
  it: ['Buonasera sul ponte, comincia l’ultima traversata.', 'Il fiume è calmo e le lanterne sono accese.'],
  nl: ['Goedenavond aan dek, de laatste overtocht begint.', 'Pas op voor het trapje.'],
};
const VARIANTS = ['', '+m1', '+m2', '+m3', '+m4', '+m5', '+m7', '+f1', '+f2', '+f3', '+f4', '+f5'];

export interface Speech {
  readonly sound: Float32Array;
  /** When somebody speaks, pauses under 0.3 s included. */ readonly spans: readonly (readonly [
    number,
    number,
  ])[];
}

/** Sentences with pauses of half a second to three seconds between them, at 48 kHz, peak 0.7. */
export function makeSpeech(seed: number, seconds: number): Speech {
  const random = seeded(seed * 31 + 11);
  const languages = Object.keys(SENTENCES);
  const language = languages[Math.floor(random() * languages.length * 1.6)] ?? 'en';
  const voice = `${language === 'en' && random() < 0.3 ? 'en-us' : language}${VARIANTS[Math.floor(random() * VARIANTS.length)]!}`;
  const rate = String(120 + Math.floor(random() * 80)),
    pitch = String(25 + Math.floor(random() * 55));
  const sound = new Float32Array(Math.round(seconds * 48000));
  const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-speech-'));
  try {
    for (let at = Math.round(48000 * (0.3 + 2 * random())); at < sound.length;) {
      const list = SENTENCES[language]!,
        file = path.join(folder, 'a.wav');
      execFileSync(
        'espeak-ng',
        ['-v', voice, '-s', rate, '-p', pitch, '-w', file, list[Math.floor(random() * list.length)]!],
        { stdio: 'ignore' },
      );
      const { channels, sampleRate } = readWav(readFileSync(file));
      const x = resample(channels[0]!, sampleRate);
      for (let i = 0; i < x.length && at + i < sound.length; i++) sound[at + i] = x[i]!;
      at += x.length + Math.round(48000 * (0.5 + 2.5 * random() ** 2));
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  let peak = 1e-9;
  for (const x of sound) peak = Math.max(peak, Math.abs(x));
  for (let i = 0; i < sound.length; i++) sound[i]! *= 0.7 / peak;
  return { sound, spans: spansOf(sound) };
}

/** Where a dry voice is: within 36 dB of its loudest tenth of a second, with gaps under 0.3 s closed. */
export function spansOf(x: Float32Array): [number, number][] {
  const step = 480,
    level: number[] = [];
  for (let at = 0; at + step <= x.length; at += step) {
    let sum = 0;
    for (let i = 0; i < step; i++) sum += x[at + i]! ** 2;
    level.push(10 * Math.log10(sum / step + 1e-12));
  }
  const top = level.reduce((a, b) => Math.max(a, b), -120);
  const spans: [number, number][] = [];
  level.forEach((db, i) => {
    if (db < top - 36) return;
    const t = i * 0.01,
      last = spans.at(-1);
    if (last && t - last[1] < 0.3) last[1] = t + 0.01;
    else spans.push([t, t + 0.01]);
  });
  return spans.filter(([a, b]) => b - a > 0.05);
}

/** To 48 kHz by cubic interpolation, after which nothing above the old half rate is added that matters to these reports. */
function resample(x: Float32Array, rate: number): Float32Array {
  const out = new Float32Array(Math.floor((x.length * 48000) / rate) - 4);
  for (let i = 0; i < out.length; i++) {
    const at = (i * rate) / 48000,
      k = Math.floor(at),
      f = at - k;
    const a = x[k - 1] ?? 0,
      b = x[k] ?? 0,
      c = x[k + 1] ?? 0,
      d = x[k + 2] ?? 0;
    out[i] = b + 0.5 * f * (c - a + f * (2 * a - 5 * b + 4 * c - d + f * (3 * (b - c) + d - a)));
  }
  return out;
}
