'use client';
import { Box, Button, Typography } from '@mui/material';
import { LASER_COUNTS, LASER_TEXT_MOST, type LaserForm } from '../../../core/laser';
import {
  changeLaserFigure,
  duplicateLaserFigure,
  type LaserFigure,
  mirrorLaserTwin,
  moveLaserFigure,
  removeThing,
  renameThing,
  thingsOf,
  twinLaserFigure,
} from '../../../core/show';
import { figureOutline } from '../../../engine/picture/figures/figureOutline';
import { Choice } from '../../controls/Choice';
import { EntryField } from '../../controls/EntryField';
import { IconAct } from '../../controls/IconAct';
import { NumberField } from '../../controls/NumberField';
import { ThingPanel } from '../../controls/ThingPanel';
import { currentShow, edit, endDrag, useSession } from '../../state/session';
import { look } from '../../state/view';

/** Everything about one figure of the laser: what it is, and its parameters like any other figure's. */
export function LaserPanel({ figure }: { readonly figure: LaserFigure }) {
  const show = useSession((s) => s.history.show),
    thing = thingsOf(show).find((t) => t.id === figure.id);
  if (!thing) return null;
  return (
    <ThingPanel
      thing={thing}
      onRename={(name) => edit('rename a figure of the laser', renameThing(figure.id, name))}
      before={
        <>
          <Acts figure={figure} />
          <Box
            sx={{
              display: 'flex',
              flexWrap: 'wrap',
              gap: 1,
              alignItems: 'center',
              pb: 1,
              fontSize: '0.9rem',
            }}
          >
            <FormFields figure={figure} />
          </Box>
        </>
      }
    />
  );
}

function Acts({ figure }: { readonly figure: LaserFigure }) {
  const { id, name } = figure;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 0.25, pb: 0.5 }}>
      <IconAct
        act={figure.off ? 'show' : 'hide'}
        label={figure.off ? 'draw it' : 'do not draw it'}
        onClick={() =>
          edit(
            figure.off ? `draw ${name}` : `do not draw ${name}`,
            changeLaserFigure(id, { off: !figure.off }),
          )
        }
      />
      <IconAct
        act="duplicate"
        title="Once more, with routes of its own that do the same"
        onClick={() => {
          const made = duplicateLaserFigure(currentShow(), id);
          if (!made) return;
          edit(`duplicate ${name}`, made.command);
          look({ laser: made.figure });
        }}
      />
      <IconAct act="delete" onClick={() => edit(`delete ${name}`, removeThing(id))} />
      <Button
        variant="text"
        title="What comes last is given up first, where it is too much"
        onClick={() => edit('order figures of the laser', moveLaserFigure(id, -1))}
      >
        earlier
      </Button>
      <Button variant="text" onClick={() => edit('order figures of the laser', moveLaserFigure(id, 1))}>
        later
      </Button>
      <Button
        variant="text"
        title="A copy that follows in everything that it does not override"
        onClick={() => {
          const made = twinLaserFigure(currentShow(), id, true);
          if (!made) return;
          edit(`twin of ${name}`, made.command);
          look({ laser: made.figure });
        }}
      >
        mirrored twin
      </Button>
      {figure.twin && (
        <Button
          variant="text"
          onClick={() => edit('mirror a twin, or not', mirrorLaserTwin(id, !figure.twin!.mirrored))}
        >
          {figure.twin.mirrored ? 'not mirrored' : 'mirror it'}
        </Button>
      )}
    </Box>
  );
}

/** Settings that no signal moves. A twin has its original's. */
function FormFields({ figure }: { readonly figure: LaserFigure }) {
  const { form, id, name } = figure;
  const pictured = useSession((s) => s.history.show.figures);
  if (figure.twin) return <span>Its form is its original’s.</span>;
  const set = (next: LaserForm, mark: string | null = null): void =>
    edit(`change ${name}`, changeLaserFigure(id, { form: next }), mark && `${mark} ${id}`);
  const count = (
    label: string,
    key: keyof typeof LASER_COUNTS,
    value: number,
    usual: number,
    make: (n: number) => LaserForm,
  ) => (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
      <span>{label}</span>
      <NumberField
        label={label}
        value={value}
        unit=""
        min={LASER_COUNTS[key][0]}
        max={LASER_COUNTS[key][1]}
        step={1}
        usual={usual}
        onChange={(n) => set(make(Math.round(n)), label)}
        onEnd={endDrag}
      />
    </Box>
  );
  switch (form.kind) {
    case 'polygon':
      return (
        <>
          {count('corners', 'corners', form.corners, 5, (corners) => ({ ...form, corners }))}
          <Choice
            label="as"
            name="Polygon or star"
            value={form.star ? 'star' : 'plain'}
            options={[
              ['plain', 'a polygon'],
              ['star', 'a star'],
            ]}
            onChange={(x) => set({ ...form, star: x === 'star' })}
          />
        </>
      );
    case 'wave':
      return count('corners of the line', 'points', form.points, 64, (points) => ({ ...form, points }));
    case 'fan':
      return count('beams', 'beams', form.beams, 7, (beams) => ({ ...form, beams }));
    case 'grid':
      return (
        <>
          {count('lines up', 'lines', form.across, 4, (across) => ({ ...form, across }))}
          {count('lines across', 'lines', form.up, 4, (up) => ({ ...form, up }))}
        </>
      );
    case 'tunnel':
      return count('rings', 'rings', form.rings, 4, (rings) => ({ ...form, rings }));
    case 'points':
      return count('dots', 'dots', form.count, 8, (n) => ({ ...form, count: n }));
    case 'text':
      return (
        <EntryField
          label="Text of the laser"
          value={form.text}
          width={220}
          read={(text) => (text.length <= LASER_TEXT_MOST ? text : null)}
          wrong={`At most ${LASER_TEXT_MOST} letters.`}
          onChange={(text) => set({ ...form, text })}
        />
      );
    case 'drawing':
      return (
        <span>
          {form.fileName}: {form.strokes.length === 1 ? 'one stroke' : `${form.strokes.length} strokes`}
        </span>
      );
    case 'frames':
      return (
        <span>
          {form.fileName}:{' '}
          {form.frames.counts.length === 1 ? 'one frame' : `${form.frames.counts.length} frames`}
        </span>
      );
    case 'figure': {
      const can = pictured.filter((f) => figureOutline(f.form) !== null);
      return (
        <>
          <Choice
            label="draws"
            name="Figure of the picture"
            value={can.some((f) => f.id === form.of) ? form.of : ''}
            options={[['', 'choose a figure'], ...can.map((f): readonly [string, string] => [f.id, f.name])]}
            onChange={(of) => set({ ...form, of })}
          />
          {can.length === 0 && (
            <Typography variant="body2">No figure of the picture has an outline.</Typography>
          )}
        </>
      );
    }
    default:
      return null;
  }
}
