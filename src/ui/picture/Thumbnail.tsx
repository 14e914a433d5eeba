import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import type { FigureForm } from '../../core/figures/kinds';

const PAPER = '#f2e9d4', RED = '#e8572a', SEA = '#6db5a9', MAIZE = '#f0b53c';
const WAVE = 'c8 -12 16 -12 24 0 s16 12 24 0 16 -12 24 0 16 12 24 0';

function drawing(form: FigureForm): ReactNode {
  switch (form.kind) {
    case 'ground': return [12, 22, 33, 43, 54].map((y, i) => <path key={y} d={`M${4 + i * 3} ${y}h${30 + ((i * 17) % 40)}M${48 + i * 5} ${y + 2}h${28}`} stroke="#345063" strokeWidth="1.6" />);
    case 'waves': return [18, 32, 46].map((y) => <path key={y} d={`M2 ${y}${WAVE}`} stroke={SEA} strokeWidth="4" fill="none" />);
    case 'lanterns': return [16, 33, 50, 67, 84].map((x, i) => <circle key={x} cx={x} cy={30 + (i % 2) * 8} r="7" fill={MAIZE} />);
    case 'stars': return [[12, 14], [34, 40], [52, 12], [66, 34], [86, 18], [80, 52], [22, 54]].map(([x, y]) => <path key={x} d={`M${x} ${y! - 6}l1.6 4.4 4.4 1.6 -4.4 1.6 -1.6 4.4 -1.6 -4.4 -4.4 -1.6 4.4 -1.6Z`} fill={PAPER} />);
    case 'dial': return <><circle cx="50" cy="33" r="26" fill="#b98d4e" /><circle cx="50" cy="33" r="23" fill={PAPER} />{Array.from({ length: 9 }, (_, i) => { const a = ((210 - i * 30) * Math.PI) / 180; return <path key={i} d={`M${50 + 16 * Math.cos(a)} ${33 - 16 * Math.sin(a)}L${50 + 21 * Math.cos(a)} ${33 - 21 * Math.sin(a)}`} stroke={i > 6 ? RED : '#0b0a0a'} strokeWidth="2.4" />; })}<path d="M47 36 64 17 52 39Z" fill="#0b0a0a" /></>;
    case 'meter': return Array.from({ length: 8 }, (_, i) => (form.upright ? <path key={i} d={`M40 ${56 - i * 7}h20v-5h-20Z`} fill={i < 5 ? [SEA, SEA, '#9aae7e', '#c8a659', MAIZE][i] : '#345063'} /> : <path key={i} d={`M${14 + i * 9} 24h7v18h-7Z`} fill={i < 5 ? [SEA, SEA, '#9aae7e', '#c8a659', MAIZE][i] : '#345063'} />));
    case 'print':
      switch (form.form) {
        case 'ferry': return <><path d="M18 44h64l-8 14H26Z" fill={RED} /><path d="M30 32h42v11H30Z" fill={PAPER} /><path d="M34 6v24h22Z" fill="#efd6a4" /><path d="M62 20h8v12h-8Z" fill={RED} /></>;
        case 'hills': return <path d="M2 60 24 26 42 46 62 14 98 58Z" fill="#0b0a0a" stroke="#9c9080" strokeWidth="1.4" />;
        case 'moon': return <><circle cx="50" cy="33" r="17" fill={PAPER} />{Array.from({ length: 14 }, (_, i) => { const a = (i / 14) * 6.283; return <path key={i} d={`M${50 + 20 * Math.cos(a)} ${33 + 20 * Math.sin(a)}L${50 + 28 * Math.cos(a)} ${33 + 28 * Math.sin(a)}`} stroke={PAPER} strokeWidth="2" />; })}</>;
        case 'sail': return <path d="M36 8v48h40Z" fill="#efd6a4" />;
        case 'block': return <path d="M32 16 68 15 67 52 33 51Z" fill={RED} />;
      }
  }
}

/** What a kind of figure looks like, as a small print. */
export function Thumbnail({ form }: { readonly form: FigureForm }) {
  return <Box component="svg" viewBox="0 0 100 64" aria-hidden sx={{ display: 'block', width: '100%', height: 58, background: '#12212c' }}>{drawing(form)}</Box>;
}
