'use client';
import { ButtonBase, type SxProps } from '@mui/material';
import { CopySimple } from '@phosphor-icons/react/dist/csr/CopySimple';
import { Eye } from '@phosphor-icons/react/dist/csr/Eye';
import { EyeSlash } from '@phosphor-icons/react/dist/csr/EyeSlash';
import { Lock } from '@phosphor-icons/react/dist/csr/Lock';
import { LockOpen } from '@phosphor-icons/react/dist/csr/LockOpen';
import { Pause } from '@phosphor-icons/react/dist/csr/Pause';
import { Play } from '@phosphor-icons/react/dist/csr/Play';
import { Trash } from '@phosphor-icons/react/dist/csr/Trash';

const ICONS = {
  play: Play,
  pause: Pause,
  hide: Eye,
  show: EyeSlash,
  lock: LockOpen,
  unlock: Lock,
  duplicate: CopySimple,
  delete: Trash,
} as const;

/** A press for which an icon is quicker than a word: it shows how things are, and says what it does where it is pointed at. */
export function IconAct({
  act,
  label = act,
  title,
  size = 20,
  onClick,
  keyName,
  sx,
}: {
  readonly act: keyof typeof ICONS;
  /** What it does, in words; the act's own name unless said otherwise. */
  readonly label?: string;
  /** More about it, where it is pointed at. */
  readonly title?: string;
  readonly size?: number;
  readonly onClick: () => void;
  /** The key that does it too, shown beside the icon. */
  readonly keyName?: string;
  readonly sx?: SxProps;
}) {
  const Icon = ICONS[act];
  return (
    <ButtonBase
      aria-label={keyName ? `${label} ${keyName}` : label}
      title={title ? `${label}: ${title}` : label}
      onClick={onClick}
      sx={{
        minWidth: size + 16,
        minHeight: size + 16,
        px: keyName ? 1 : 0,
        gap: 0.75,
        color: 'inherit',
        '&:hover': { background: 'var(--bed)' },
        ...(sx as object),
      }}
    >
      <Icon
        size={size}
        weight={act === 'unlock' || act === 'play' || act === 'pause' ? 'fill' : 'bold'}
        aria-hidden
      />
      {keyName && <kbd>{keyName}</kbd>}
    </ButtonBase>
  );
}
