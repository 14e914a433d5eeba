import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import type { FigureForm } from '../../core/figures';

const PAPER = '#f2e9d4',
  RED = '#e8572a',
  SEA = '#6db5a9',
  MAIZE = '#f0b53c',
  INK = '#0b0a0a';
const WAVE = 'c8 -12 16 -12 24 0 s16 12 24 0 16 -12 24 0 16 12 24 0';

function drawing(form: FigureForm): ReactNode {
  switch (form.kind) {
    case 'ground':
      return [12, 22, 33, 43, 54].map((y, i) => (
        <path
          key={y}
          d={`M${4 + i * 3} ${y}h${30 + ((i * 17) % 40)}M${48 + i * 5} ${y + 2}h${28}`}
          stroke="#345063"
          strokeWidth="1.6"
        />
      ));
    case 'waves':
      return [18, 32, 46].map((y) => (
        <path key={y} d={`M2 ${y}${WAVE}`} stroke={SEA} strokeWidth="4" fill="none" />
      ));
    case 'lanterns':
      return [16, 33, 50, 67, 84].map((x, i) => (
        <circle key={x} cx={x} cy={30 + (i % 2) * 8} r="7" fill={MAIZE} />
      ));
    case 'stars':
      return [
        [12, 14],
        [34, 40],
        [52, 12],
        [66, 34],
        [86, 18],
        [80, 52],
        [22, 54],
      ].map(([x, y]) => (
        <path
          key={x}
          d={`M${x} ${y! - 6}l1.6 4.4 4.4 1.6 -4.4 1.6 -1.6 4.4 -1.6 -4.4 -4.4 -1.6 4.4 -1.6Z`}
          fill={PAPER}
        />
      ));
    case 'dial':
      return (
        <>
          <circle cx="50" cy="33" r="26" fill="#b98d4e" />
          <circle cx="50" cy="33" r="23" fill={PAPER} />
          {Array.from({ length: 9 }, (_, i) => {
            const a = ((210 - i * 30) * Math.PI) / 180;
            return (
              <path
                key={i}
                d={`M${50 + 16 * Math.cos(a)} ${33 - 16 * Math.sin(a)}L${50 + 21 * Math.cos(a)} ${33 - 21 * Math.sin(a)}`}
                stroke={i > 6 ? RED : '#0b0a0a'}
                strokeWidth="2.4"
              />
            );
          })}
          <path d="M47 36 64 17 52 39Z" fill="#0b0a0a" />
        </>
      );
    case 'meter':
      return Array.from({ length: 8 }, (_, i) =>
        form.upright ? (
          <path
            key={i}
            d={`M40 ${56 - i * 7}h20v-5h-20Z`}
            fill={i < 5 ? [SEA, SEA, '#9aae7e', '#c8a659', MAIZE][i] : '#345063'}
          />
        ) : (
          <path
            key={i}
            d={`M${14 + i * 9} 24h7v18h-7Z`}
            fill={i < 5 ? [SEA, SEA, '#9aae7e', '#c8a659', MAIZE][i] : '#345063'}
          />
        ),
      );
    case 'solid':
      return form.look === 'wire' ? (
        <path
          d="M30 24 52 14 72 22 72 48 50 58 30 50ZM30 24 50 33 72 22M50 33V58"
          stroke={PAPER}
          strokeWidth="1.8"
          fill="none"
        />
      ) : (
        <>
          <path d="M30 24 52 14 72 22 50 33Z" fill="#f0855f" />
          <path d="M30 24 50 33V58L30 50Z" fill={RED} />
          <path d="M50 33 72 22V48L50 58Z" fill="#93381b" />
          {form.look === 'outlined' && (
            <path
              d="M30 24 52 14 72 22 72 48 50 58 30 50ZM30 24 50 33 72 22M50 33V58"
              stroke={PAPER}
              strokeWidth="2"
              fill="none"
            />
          )}
        </>
      );
    case 'model':
      return (
        <>
          <path d="M20 48 34 30 50 24 68 30 82 46 64 54H36Z" fill={RED} />
          <path d="M34 30 50 24 68 30 50 38Z" fill="#f0855f" />
          <path d="M50 38V54M34 30 50 38 68 30" stroke={INK} strokeWidth="1.6" fill="none" />
          <path d="M46 8h8v14h-8Z" fill={PAPER} />
        </>
      );
    case 'copies':
      return form.along === 'ring'
        ? Array.from({ length: 12 }, (_, i) => {
            const a = (i / 12) * 6.283;
            return (
              <circle
                key={i}
                cx={50 + 24 * Math.cos(a)}
                cy={32 + 24 * Math.sin(a)}
                r={2 + (i % 4)}
                fill={i % 4 > 1 ? RED : SEA}
              />
            );
          })
        : form.along === 'grid'
          ? Array.from({ length: 21 }, (_, i) => (
              <path
                key={i}
                d={`M${10 + (i % 7) * 12} ${12 + Math.floor(i / 7) * 17}h8v9h-8Z`}
                fill={[SEA, SEA, MAIZE, RED][(i * 5) % 4]}
              />
            ))
          : Array.from({ length: 11 }, (_, i) => {
              const h = 8 + 34 * Math.abs(Math.sin(i * 0.7 + 0.4));
              return <path key={i} d={`M${8 + i * 8} ${54 - h}h5v${h}h-5Z`} fill={h > 30 ? RED : SEA} />;
            });
    case 'light':
      return (
        <>
          <circle cx="50" cy="32" r="30" fill="#2b4152" />
          <circle cx="50" cy="32" r="19" fill="#6f6544" />
          <circle cx="50" cy="32" r="8" fill={MAIZE} />
          {Array.from({ length: 10 }, (_, i) => {
            const a = (i / 10) * 6.283;
            return (
              <path
                key={i}
                d={`M${50 + 12 * Math.cos(a)} ${32 + 12 * Math.sin(a)}L${50 + 26 * Math.cos(a)} ${32 + 26 * Math.sin(a)}`}
                stroke={MAIZE}
                strokeWidth="2"
              />
            );
          })}
        </>
      );
    case 'emitter':
      return (
        <>
          {Array.from({ length: 22 }, (_, i) => {
            const t = ((i * 37) % 100) / 100,
              a = -1.57 + (((i * 53) % 100) / 100 - 0.5) * 1.3,
              r = 8 + 46 * t;
            return (
              <circle
                key={i}
                cx={50 + r * Math.cos(a)}
                cy={58 + r * Math.sin(a) + 18 * t * t}
                r={3.4 - 2.4 * t}
                fill={t > 0.6 ? SEA : PAPER}
              />
            );
          })}
          <path d="M42 58h16l-4 5h-8Z" fill={RED} />
        </>
      );
    case 'trace':
      return (
        <>
          <path
            d="M4 38C14 38 16 20 24 22s8 30 18 28 8-40 18-38 10 30 18 26 6-14 10-18"
            stroke={MAIZE}
            strokeWidth="3.2"
            fill="none"
          />
          <circle cx="88" cy="20" r="5" fill={PAPER} />
        </>
      );
    case 'bars':
      return Array.from({ length: 9 }, (_, i) => {
        const h = 10 + 38 * Math.abs(Math.sin(i * 1.3 + 0.8));
        return (
          <path
            key={i}
            d={
              form.bothWays
                ? `M${10 + i * 9} ${32 - h / 2}h6v${h}h-6Z`
                : `M${10 + i * 9} ${56 - h}h6v${h}h-6Z`
            }
            fill={i % 3 === 1 ? RED : SEA}
          />
        );
      });
    case 'waveform':
      return form.round ? (
        <path
          d={`M${Array.from({ length: 49 }, (_, i) => {
            const a = (i / 48) * 6.283,
              r = 20 + 4 * Math.sin(a * 7);
            return `${(50 + r * Math.cos(a)).toFixed(1)} ${(32 + r * Math.sin(a)).toFixed(1)}`;
          }).join('L')}Z`}
          stroke={PAPER}
          strokeWidth="3"
          fill="none"
        />
      ) : (
        <path
          d="M4 32q5-4 8 0t8 0q5-28 9 0t9 0q5 26 9 0t9 0q5-18 9 0t9 0q5 8 8 0t12 0"
          stroke={PAPER}
          strokeWidth="3"
          fill="none"
        />
      );
    case 'spectrogram':
      return Array.from({ length: 60 }, (_, i) => {
        const x = i % 12,
          y = Math.floor(i / 12),
          v = Math.abs(Math.sin(x * 1.7 + y) * Math.cos(y * 0.9 - x * 0.4));
        return v > 0.25 ? (
          <path
            key={i}
            d={`M${8 + x * 7} ${52 - y * 10}h6v9h-6Z`}
            fill={v > 0.75 ? PAPER : v > 0.5 ? SEA : '#345063'}
          />
        ) : null;
      });
    case 'image':
      return (
        <>
          <path d="M18 10h64v44H18Z" fill={PAPER} />
          <path d="M22 14h56v36H22Z" fill={SEA} />
          <path d="M22 50 40 30 54 44 64 36 78 50Z" fill={INK} />
          <circle cx="66" cy="24" r="5" fill={MAIZE} />
        </>
      );
    case 'video':
      return (
        <>
          <path d="M18 10h64v44H18Z" fill={INK} />
          <path
            d="M20 12h5v5h-5ZM20 22h5v5h-5ZM20 32h5v5h-5ZM20 42h5v5h-5ZM75 12h5v5h-5ZM75 22h5v5h-5ZM75 32h5v5h-5ZM75 42h5v5h-5Z"
            fill={PAPER}
          />
          <path d="M42 20 62 32 42 44Z" fill={RED} />
        </>
      );
    case 'camera':
      return (
        <>
          <path d="M22 20h36v28H22Z" fill={PAPER} />
          <path d="M60 30 78 20v28L60 38Z" fill={PAPER} />
          <circle cx="40" cy="34" r="9" fill={INK} />
          <circle cx="40" cy="34" r="4" fill={RED} />
        </>
      );
    case 'texture':
      return form.pattern === 'noise' ? (
        <path
          d="M4 20c12-14 24 8 36-2s22-10 30 2 18 4 26-6v46c-8 8-16-6-28 0s-20 8-30-2-22 6-34-4Z"
          fill={SEA}
        />
      ) : form.pattern === 'ramp' ? (
        Array.from({ length: 6 }, (_, i) => (
          <path key={i} d={`M6 ${8 + i * 8}h88v${2 + i}h-88Z`} fill={SEA} />
        ))
      ) : (
        [26, 18, 10].map((r, i) => <circle key={r} cx="50" cy="32" r={r} fill={i % 2 ? '#12212c' : SEA} />)
      );
    case 'text':
      return (
        <text
          x="50"
          y="44"
          textAnchor="middle"
          fontFamily="Bricolage Grotesque Variable"
          fontWeight="800"
          fontSize="34"
          fill={PAPER}
        >
          {form.text.replace(/\s+/g, ' ').slice(0, 5) || 'Aa'}
        </text>
      );
    case 'edge':
      return form.outline === 'round' ? (
        <>
          <circle cx="50" cy="32" r="21" fill="none" stroke={PAPER} strokeWidth="5" />
          <circle cx="50" cy="32" r="26" fill="none" stroke={MAIZE} strokeWidth="2" strokeDasharray="3 4" />
        </>
      ) : form.outline === 'drawing' ? (
        <path d="M50 6L76 24 68 54 34 56 22 26Z" fill="none" stroke={PAPER} strokeWidth="5" />
      ) : (
        <path
          d="M6 6h88v52H6ZM12 12Q50 26 88 12Q76 32 88 52Q50 38 12 52Q24 32 12 12Z"
          fill={PAPER}
          fillRule="evenodd"
        />
      );
    case 'letters':
      return ['a', 'b', 'c'].map((l, i) => (
        <text
          key={l}
          x={24 + i * 26}
          y={[46, 36, 50][i]}
          textAnchor="middle"
          fontFamily="Bricolage Grotesque Variable"
          fontWeight="800"
          fontSize="30"
          fill={[PAPER, MAIZE, RED][i]}
          transform={`rotate(${[-8, 5, 10][i]} ${24 + i * 26} 40)`}
        >
          {l}
        </text>
      ));
    case 'switch':
      return (
        <>
          <circle cx="34" cy="30" r="15" fill={RED} />
          <path d="M52 15h30v30H52Z" fill="none" stroke={PAPER} strokeWidth="2" strokeDasharray="4 3" />
          <path d="M40 54h20l-5-5M60 54l-5 5" stroke={MAIZE} strokeWidth="2.4" fill="none" />
        </>
      );
    case 'print':
      switch (form.form) {
        case 'ferry':
          return (
            <>
              <path d="M18 44h64l-8 14H26Z" fill={RED} />
              <path d="M30 32h42v11H30Z" fill={PAPER} />
              <path d="M34 6v24h22Z" fill="#efd6a4" />
              <path d="M62 20h8v12h-8Z" fill={RED} />
            </>
          );
        case 'hills':
          return (
            <path d="M2 60 24 26 42 46 62 14 98 58Z" fill="#0b0a0a" stroke="#9c9080" strokeWidth="1.4" />
          );
        case 'moon':
          return (
            <>
              <circle cx="50" cy="33" r="17" fill={PAPER} />
              {Array.from({ length: 14 }, (_, i) => {
                const a = (i / 14) * 6.283;
                return (
                  <path
                    key={i}
                    d={`M${50 + 20 * Math.cos(a)} ${33 + 20 * Math.sin(a)}L${50 + 28 * Math.cos(a)} ${33 + 28 * Math.sin(a)}`}
                    stroke={PAPER}
                    strokeWidth="2"
                  />
                );
              })}
            </>
          );
        case 'sail':
          return <path d="M36 8v48h40Z" fill="#efd6a4" />;
        case 'block':
          return <path d="M32 16 68 15 67 52 33 51Z" fill={RED} />;
        case 'triangle':
          return <path d="M50 12 73 52 27 51Z" fill={RED} />;
      }
  }
}

/** What a kind of figure looks like, as a small print. */
export function Thumbnail({ form }: { readonly form: FigureForm }) {
  return (
    <Box
      component="svg"
      viewBox="0 0 100 64"
      aria-hidden
      sx={{ display: 'block', width: '100%', height: 58, background: '#12212c' }}
    >
      {drawing(form)}
    </Box>
  );
}
