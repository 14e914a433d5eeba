'use client';
import { create } from 'zustand';
import { MediaDesk } from '../../engine/picture/mediaDesk';
import { OWN_FILES } from '../picture/ownFiles';
import { emptyShow, FERRY_FIGURES, newShow } from '../../core/ferry';
import {
  apply,
  changeShaping,
  type Command,
  EMPTY_MEMORY,
  EMPTY_STAGE,
  findParameter,
  type History,
  type HistoryStep,
  type Input,
  lastStep,
  type Memory,
  newHistory,
  newInput,
  redo,
  seal,
  type Show,
  type StageState,
  tooMuch,
  undo,
} from '../../core/show';
import { db, getSetting, keepMedia, KeepError, mediaOf, namesOfMedia, setSetting } from '../../data/database';
import { keepSame } from '../../core/keepSame';
import type { Act, Performed } from '../../core/acts';
import type { Stood } from '../../core/plan';
import { Journal } from '../../data/journal';
import { sizeText } from '../controls/amounts';
import {
  loadExample,
  loadFerry,
  loadShow,
  removeShows,
  saveMemory,
  saveShow,
  takeIn,
} from '../../data/showStore';
import { writeShowFile, SHOW_FILE_ENDING } from '../../data/showFile';
import { readShowFileApart } from '../../data/showFileReader';
import { didNotStart, watchStart } from './starting';
import { goTo, selectNothing, useView } from './view';
import { Engine } from '../../engine/engine';
import type { InputState } from '../../engine/inputState';
import { standForEngine, type Seat } from '../../engine/election';
import type { Real, Word } from '../../engine/memory/control';
import type { Fault } from '../../engine/memory/faults';
import type { MidiSaid } from '../../engine/midiOut';
import type { Quality } from '../../core/figures';
import type { LaserAsk, Standing } from '../../core/protocols';
import type { Cost, OutletReport } from '../../engine/memory/messages';
import { live } from '../live/live';
import { forgetHand, recordHand } from '../live/handTrail';
import { saveBlob } from './saveBlob';
import { say } from './notices';

export type Phase = 'starting' | 'elsewhere' | 'opening' | 'running' | 'broken';

/** What the interface knows about the running show, apart from its live values. */
export interface Session {
  readonly phase: Phase;
  readonly history: History;
  readonly dark: boolean;
  readonly freeze: boolean;
  readonly playing: boolean;
  readonly audio: 'waiting' | 'running' | 'stopped';
  readonly inputs: Readonly<Record<string, InputState>>;
  readonly outlets: OutletReport | null;
  readonly midiSaid: Readonly<Record<string, MidiSaid>>;
  readonly picture: {
    readonly rate: number;
    readonly trouble: string | null;
    readonly quality: Quality;
    readonly costs: readonly Cost[];
    /** How often the graphics device was lost and came back. */ readonly regained: number;
  };
  /** Whether this window shows the picture now. */
  readonly previewing: boolean;
  readonly armed: boolean;
  /** How the first computer stands that this one follows; null: it follows none. */
  readonly standing: Standing | null;
  /** Lamps may flash more than three times a second. */
  readonly quick: boolean;
  /** Where the performance is. */
  readonly stage: StageState;
  /** The look that this window alone shows. */
  readonly rehearsed: string | null;
  /** Parameters held by hand, by `thing/parameter`. */
  readonly hands: Readonly<Record<string, readonly number[]>>;
  readonly saved: 'saved' | 'saving' | 'full';
  /** Ticks of a thread that failed of late. */
  readonly fault: (Fault & { readonly where: 'show' | 'outlets' }) | null;
  /** Why the show as it is now could not be taken; the one before the last edit plays on. */
  readonly refused: string | null;
}

/** What opens before anything else: the picture at rest, listening to nothing. */
const RESTING: Show = { ...emptyShow('resting', 'New show'), figures: FERRY_FIGURES, wires: [] };

export const useSession = create<Session>(() => ({
  phase: 'starting',
  history: newHistory(RESTING),
  dark: false,
  freeze: false,
  playing: false,
  audio: 'waiting',
  inputs: {},
  outlets: null,
  midiSaid: {},
  picture: {
    rate: 0,
    trouble: null,
    quality: { edges: true, resolution: 1, counts: 1 },
    costs: [],
    regained: 0,
  },
  previewing: false,
  armed: false,
  standing: null,
  quick: false,
  stage: EMPTY_STAGE,
  rehearsed: null,
  hands: {},
  saved: 'saved',
  fault: null,
  refused: null,
}));
const set = useSession.setState;
const get = useSession.getState;

let engine: Engine | null = null;
let seat: Seat | null = null;
let learned: Pick<Memory, 'fits' | 'makers' | 'hands' | 'stage'> = EMPTY_MEMORY;
let taking = false;
let saveTimer: ReturnType<typeof setTimeout> | null = null;
/** Since when there is something to be saved. */
let unsavedSince = 0;
const journal = new Journal();

export const currentShow = (): Show => get().history.show;
export const theEngine = (): Engine | null => engine;

// ── coming and going ──

const LEASE_KEY = 'batucada-lease';
/** The bridge knows this window again after a reload by a word that lives as long as the tab. */
function lease(): string {
  let word = sessionStorage.getItem(LEASE_KEY);
  if (!word) sessionStorage.setItem(LEASE_KEY, (word = crypto.randomUUID()));
  return word;
}

/** Starts this window: waits for the engine's seat, then opens the last show or the opening page. @param demo - the ferry sails at once */
export function start(demo: boolean, take = false): void {
  Object.assign(window, { batucadaMeasure: measure });
  if (seat) seat.leave();
  taking = take;
  if (!crossOriginIsolated) {
    set({ phase: 'broken' });
    return;
  }
  waiting = setTimeout(() => {
    if (!engine) set({ phase: 'elsewhere' });
  }, 1500);
  stand(demo, take);
}
let waiting: ReturnType<typeof setTimeout> | undefined;
/** Waits for the engine's seat. Another window may take it over; should that one close, the show goes on here by itself. */
function stand(demo: boolean, take: boolean): void {
  seat = standForEngine(
    () => {
      clearTimeout(waiting);
      void begin(demo);
    },
    () => {
      stop();
      set({ phase: 'elsewhere' });
      stand(demo, false);
    },
    take,
  );
}

/** What `npm run bench` measures by; nothing of the interface uses it. */
export interface MeasureHandle {
  /** The show as it is now. */
  show(): Show;
  stage(): StageState;
  open(show: Show): void;
  keep(bytes: Uint8Array, name: string): Promise<string>;
  word(word: Word): number;
  real(real: Real): number;
  clear(word: Word): void;
  edit(route: string, amount: number): void;
  parameter(key: string): number;
  /** The row that is laid over a parameter; none where none is. */
  row(key: string): readonly number[];
  picture(): Session['picture'];
  probe(task: {
    onset: number;
    period: number;
    parameter: string;
    goal: number;
    universe: number;
    address: number;
    byteGoal: number;
    bursts: number;
  }): Promise<unknown>;
}
/** Once somebody asks for a row they are read every frame. */
let rowsWanted: (() => void) | null = null;
const measure: MeasureHandle = {
  show: () => currentShow(),
  stage: () => get().stage,
  open: (show) => adopt(newHistory(show), { ...EMPTY_MEMORY, playing: true }, 'running'),
  keep: (bytes, name) => keepMedia(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'audio/wav' }), name),
  word: (word) => engine?.control.get(word) ?? -1,
  real: (real) => engine?.control.reals[real] ?? NaN,
  clear: (word) => engine?.control.set(word, 0),
  edit: (route, amount) => edit('set an amount', changeShaping(route, { amount })),
  parameter: (key) => live.parameter(key),
  row: (key) => {
    rowsWanted ??= live.wantVectors();
    const at = live.vectorAt(key);
    return at ? [...at.values.subarray(at.at, at.at + at.points)] : [];
  },
  picture: () => get().picture,
  probe: ({ parameter, ...task }) =>
    engine!.measure({ ...task, slot: live.map!.parameters[parameter]! }, live.blocks!.frames),
};

export function stop(): void {
  seat?.leave();
  seat = null;
  engine?.dispose();
  engine = null;
  live.clear();
}

async function begin(demo: boolean): Promise<void> {
  void navigator.storage?.persist?.();
  const lastId = await getSetting<string | null>('last-show', null);
  try {
    const kept = lastId ? await loadShow(lastId) : null;
    if (kept && didNotStart(kept.history.show.id)) {
      say(
        'warning',
        `“${kept.history.show.name}” did not come to life the last time, and was left closed. It is kept: Show → Shows in this browser … opens it.`,
      );
    } else if (kept) {
      adopt(seal(kept.history), kept.memory, 'running', kept.savedAt);
      return;
    }
  } catch (e) {
    say('warning', e instanceof Error ? e.message : 'The last show could not be opened.');
  }
  if (demo) {
    try {
      adopt(newHistory(await loadFerry()), { ...EMPTY_MEMORY, playing: true }, 'opening');
      return;
    } catch (e) {
      say('warning', e instanceof Error ? e.message : 'The demo could not be loaded.');
    }
  }
  adopt(newHistory(RESTING), EMPTY_MEMORY, 'opening');
}

/** @param savedAt - when it was last saved, in ms since 1970; 0 when it never was */
function adopt(history: History, memory: Memory, phase: Phase, savedAt = 0): void {
  if (history.show.id !== get().history.show.id) selectNothing();
  journal.begin(history.show.id, savedAt);
  // What was dragged before a reload is one thing, what is dragged after it another.
  if (savedAt > 0) journal.note({ step: 'seal' });
  if (phase === 'running') watchStart(history.show.id);
  learned = memory;
  set({ hands: memory.hands, stage: memory.stage, rehearsed: null });
  set({
    history,
    phase,
    dark: memory.dark,
    freeze: memory.freeze,
    playing: memory.playing,
    inputs: {},
    refused: null,
  });
  // What troubled the picture of another show says nothing of this one's.
  set((s) => ({ picture: { ...s.picture, trouble: null } }));
  if (engine) {
    engine.open(history.show, memory);
    engine.perform({ do: 'dark', on: memory.dark });
    engine.perform({ do: 'freeze', on: memory.freeze });
    return;
  }
  const wsProtocol = location.protocol === 'https:' ? 'wss' : 'ws';
  engine = new Engine(
    history.show,
    memory,
    { url: `${wsProtocol}://${location.host}/bridge`, lease: lease(), take: taking },
    {
      media: async (hash) => (await db().media.get(hash)) ?? null,
      plan: (blocks, map) => live.setPlan(blocks, map),
      memory: memoryNow,
      did: (acts) => {
        for (const { act } of acts) know(act);
        tellPerformed(acts);
      },
      fault: (fault) => set({ fault }),
      refused: (what) => set({ refused: what }),
      restarted: (who) => {
        // What was tried unseen is no part of what it was started from.
        if (who === 'show') set({ rehearsed: null });
        say(
          'warning',
          who === 'show'
            ? 'The show’s thread had stopped. It was started again from where it was; outputs were held for a moment.'
            : 'The outputs’ thread had stopped. It was started again; lamps and pages were held for a moment.',
        );
      },
      input: (id, state) => set((s) => ({ inputs: keepSame(s.inputs, { ...s.inputs, [id]: state }) })),
      learned: (now) => {
        learned = now;
        if (!sameStage(get().stage, now.stage)) set({ stage: now.stage });
        void keepMemory();
      },
      // They are told many times a second: what is as it was must not have all that shows it made anew.
      outlets: (outlets) => set((s) => ({ outlets: keepSame(s.outlets, outlets) })),
      armed: (armed) => set({ armed }),
      standing: (standing) => set({ standing }),
      midiSaid: (midiSaid) => set({ midiSaid }),
      pictureAsks: (worker) => {
        const desk = new MediaDesk(worker, OWN_FILES);
        return { take: (message) => desk.take(message), close: () => desk.close() };
      },
      picture: (m) => {
        if (m.type === 'rate') live.everyMs = m.processor ? 50 : 0;
        if (m.type === 'rate')
          set((s) => ({ picture: { ...s.picture, rate: m.framesPerSecond, quality: m.quality } }));
        else if (m.type === 'costs') set((s) => ({ picture: { ...s.picture, costs: m.costs } }));
        else if (m.type === 'trouble') set((s) => ({ picture: { ...s.picture, trouble: m.what } }));
        else if (m.type === 'well')
          set((s) => ({ picture: { ...s.picture, trouble: null, regained: s.picture.regained + 1 } }));
      },
      audio: (audio) => set({ audio }),
      trouble: (what) => say('warning', what),
    },
  );
}

/** What has been learned and how everything stands, as it is kept. */
export function memoryNow(): Memory {
  const { dark, freeze } = get();
  return {
    fits: learned.fits,
    makers: learned.makers,
    stage: learned.stage,
    hands: get().hands,
    dark,
    freeze,
    position: engine?.position ?? 0,
    playing: get().playing,
  };
}
/** Everything is as another computer has it; and the sound, where this one's is somewhere else. @param changed - anything but that */
export function followMemory(memory: Memory, changed: boolean): void {
  if (!engine) return;
  const { dark, freeze, hands, stage, playing, position } = memory;
  if (changed) {
    engine.follow(memory);
    learned = memory;
    set({ dark, freeze, hands, stage });
  }
  if (playing !== get().playing) setPlaying(playing);
  if (Math.abs(position - engine.position) > FOLLOW_WITHIN) seek(position);
}
/** In seconds. Two clocks go apart so slowly that it is corrected once in hours. */
const FOLLOW_WITHIN = 0.3;
async function keepMemory(): Promise<void> {
  const { phase, history } = get();
  if (phase !== 'running' || !engine) return;
  try {
    await saveMemory(history.show.id, memoryNow());
  } catch {
    set({ saved: 'full' });
  }
}
if (typeof window !== 'undefined')
  window.addEventListener('pagehide', () => {
    void keepMemory();
    if (saveTimer) void saveNow();
  });

// ── saving ──

/** An edit is saved after a moment of rest, but never later than this, however the edits keep coming. */
const REST_MS = 300,
  LATEST_MS = 1500;

function saveSoon(): void {
  if (get().phase !== 'running') return;
  set({ saved: 'saving' });
  const now = performance.now();
  if (saveTimer) clearTimeout(saveTimer);
  else unsavedSince = now;
  saveTimer = setTimeout(
    () => void saveNow(),
    Math.max(0, Math.min(REST_MS, unsavedSince + LATEST_MS - now)),
  );
}
export async function saveNow(): Promise<void> {
  if (saveTimer) clearTimeout(saveTimer);
  saveTimer = null;
  const { history } = get(),
    steps = journal.length;
  try {
    const savedAt = await saveShow(history);
    if (get().history.show.id === history.show.id) journal.saved(savedAt, steps);
    await setSetting('last-show', history.show.id);
    if (!saveTimer) set({ saved: 'saved' });
  } catch (e) {
    set({ saved: 'full' });
    say(
      'warning',
      e instanceof KeepError ? e.message : 'The show could not be saved. Save it to a file now.',
    );
  }
}
/** Before another show takes this one's place: nothing of it waits any more. */
async function leaveShow(): Promise<void> {
  if (get().phase !== 'running') return;
  if (saveTimer) await saveNow();
  await keepMemory();
}

// ── editing ──

/** Under the lock nothing is edited, and whoever tries is told why. */
function locked(): boolean {
  if (!useView.getState().locked) return false;
  say('warning', 'Locked: nothing of the show can be edited. Hold L in Tonight for a second to open it.');
  return true;
}
/** Every edit of the show. @param mark - edits with one mark are undone together */
export function edit(label: string, command: Command, mark: string | null = null): void {
  if (locked()) return;
  const before = get().history,
    next = apply(before, label, command, mark);
  const large = next === before ? null : tooMuch(next.show);
  // What could not be opened again is not made in the first place; a show that was larger already may become smaller.
  if (large && tooMuch(before.show) === null) {
    say('warning', large);
    return;
  }
  follow(next, lastStep(before, next));
}
/** Ends a drag: the next edit stands for itself. */
export function endDrag(): void {
  const before = get().history,
    next = seal(before);
  if (next === before) return;
  set({ history: next });
  journal.note({ step: 'seal' });
}
export function undoEdit(): void {
  if (locked()) return;
  follow(undo(get().history), { step: 'undo' });
}
export function redoEdit(): void {
  if (locked()) return;
  follow(redo(get().history), { step: 'redo' });
}

function follow(next: History, step: HistoryStep | null): void {
  if (next === get().history) return;
  set({ history: next, refused: null });
  engine?.setShow(next.show, next.patches ?? null);
  if (get().phase === 'running' && step) journal.note(step);
  saveSoon();
}

// ── shows ──

async function enter(show: Show, memory: Memory): Promise<void> {
  await leaveShow();
  adopt(newHistory(show), memory, 'running');
  await saveNow();
  await keepMemory();
}

export async function playFerry(): Promise<void> {
  const unlocking = engine?.unlock();
  const { history, phase } = get();
  if (phase === 'opening' && history.show.id === 'night-ferry') {
    set({ phase: 'running', playing: true });
    await Promise.all([unlocking, saveNow()]);
    return;
  }
  await enterFresh(loadFerry, 'The ferry could not be opened.');
  await unlocking;
}

/** One of the small example shows, playing. */
export async function playExample(id: string): Promise<void> {
  const unlocking = engine?.unlock();
  await enterFresh(() => loadExample(id), 'The example could not be opened.');
  await unlocking;
}
async function enterFresh(load: () => Promise<Show>, otherwise: string): Promise<void> {
  try {
    await enter(await load(), { ...EMPTY_MEMORY, playing: true });
  } catch (e) {
    say('warning', e instanceof Error ? e.message : otherwise);
  }
}

function newId(): string {
  return `show-${crypto.randomUUID().slice(0, 8)}`;
}

export async function startWithDevice(deviceId = '', deviceName = ''): Promise<void> {
  const unlocking = engine?.unlock();
  const input: Input = { ...newInput('input-1', 'Microphone', false), kind: 'device', deviceId, deviceName };
  await enter(newShow(newId(), 'New show', input), EMPTY_MEMORY);
  await unlocking;
}

/** A show with nothing in it. */
export async function startEmpty(): Promise<void> {
  const unlocking = engine?.unlock();
  // Where it begins; and at once, for whoever goes on while the show before is still being kept.
  goTo('listen');
  await enter(emptyShow(newId(), 'New show'), { ...EMPTY_MEMORY, playing: true });
  await unlocking;
}

/** A show that begins with a sound; with none, the one that is open stays. */
export async function startWithSound(reading: Promise<Input | null>): Promise<void> {
  const unlocking = engine?.unlock();
  const input = await reading;
  if (!input) return;
  await enter(newShow(newId(), input.name, input), { ...EMPTY_MEMORY, playing: true });
  await unlocking;
}

export async function openKept(id: string): Promise<void> {
  try {
    const kept = await loadShow(id);
    if (!kept) {
      say('warning', 'This show is not in this browser any more.');
      return;
    }
    await leaveShow();
    // Read only now: it may be the very show that was just left.
    const now = (await loadShow(id)) ?? kept;
    adopt(seal(now.history), now.memory, 'running', now.savedAt);
    await setSetting('last-show', id);
  } catch (e) {
    say('warning', e instanceof Error ? e.message : 'This show could not be opened.');
  }
}

/** Takes kept shows away for good; the one that is open stays. */
export async function removeKept(ids: readonly string[]): Promise<void> {
  const { history } = get(),
    others = ids.filter((id) => id !== history.show.id);
  if (others.length === 0) return;
  try {
    const bytes = await removeShows(others, history);
    say(
      'done',
      `${others.length === 1 ? 'One show is' : `${others.length} shows are`} removed${bytes > 0 ? `, and ${sizeText(bytes)} of files with ${others.length === 1 ? 'it' : 'them'}` : ''}.`,
    );
    // What found no room before may find it now.
    if (get().saved === 'full') await saveNow();
  } catch (e) {
    say('warning', e instanceof Error ? e.message : 'The shows could not be removed. Try again.');
  }
}

export async function exportShow(): Promise<void> {
  const show = currentShow();
  try {
    const media = [],
      missing = [];
    for (const hash of mediaOf(show)) {
      const m = await db().media.get(hash);
      if (m) media.push(m);
      else missing.push(hash);
    }
    const names = namesOfMedia(show, missing);
    if (missing.length)
      say('warning', `${missingWords(names)} not in this browser any more: the file goes without.`);
    const blob = await writeShowFile({ show, memory: memoryNow(), media, missing: names });
    const name = saveBlob(
      blob,
      `${show.name.replace(/[^\p{L}\p{N} _-]/gu, '').trim() || 'show'}${SHOW_FILE_ENDING}`,
    );
    say('done', `Saved as “${name}”${missing.length ? `, without ${missing.length} of its files` : ''}.`);
  } catch {
    say('warning', 'The file could not be made. Free some memory or disk space, and try again.');
  }
}
const missingWords = (names: readonly string[]): string =>
  `${names
    .slice(0, 4)
    .map((n) => `“${n}”`)
    .join(
      ', ',
    )}${names.length > 4 ? ` and ${names.length - 4} more` : ''} ${names.length === 1 ? 'is' : 'are'}`;

/** Opens a show file. A bad one is refused in words, and the show that plays goes on as it was. */
export async function importShow(file: File): Promise<boolean> {
  try {
    const content = await readShowFileApart(file);
    const id = await takeIn(content);
    await openKept(id);
    if (content.missing.length)
      say(
        'warning',
        `${missingWords(content.missing)} missing from this file. Everything else is here; choose what is missing again where it is used.`,
      );
    say('done', `“${content.show.name}” is open.`);
    return true;
  } catch (e) {
    say('warning', e instanceof Error ? e.message : 'This file could not be opened.');
    return false;
  }
}

// ── performing ──

/** Performs an act in this window. What is known of it here is known at once. */
export function perform(act: Act): void {
  engine?.perform(act);
  know(act);
  tellPerformed([{ act, who: 'window', at: performance.timeOrigin + performance.now() }]);
}
const listeners = new Set<(performed: readonly Performed[]) => void>();
/** Tells of everything that is performed, by whomever. @returns what ends it */
export function whenPerformed(listener: (performed: readonly Performed[]) => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
function tellPerformed(performed: readonly Performed[]): void {
  for (const listener of listeners) listener(performed);
}
/** What an act changes of what this window shows, whoever performed it. */
function know(act: Act): void {
  switch (act.do) {
    case 'dark':
      set({ dark: act.on });
      break;
    case 'freeze':
      set({ freeze: act.on });
      break;
    case 'play':
      set({ playing: act.on });
      break;
    case 'hand': {
      const { key, value } = act;
      set((s) => ({
        hands: value
          ? { ...s.hands, [key]: value }
          : Object.fromEntries(Object.entries(s.hands).filter(([k]) => k !== key)),
      }));
      // A parameter that is dragged is remembered with the next that is learned.
      if (value) return;
      break;
    }
    case 'hand place': {
      const { thing, parameter, place } = act,
        end = findParameter(get().history.show, { thing, parameter });
      if (end?.parameter.kind !== 'number') return;
      const { min, max } = end.parameter;
      set((s) => ({ hands: { ...s.hands, [`${thing}/${parameter}`]: [min + (max - min) * place] } }));
      return;
    }
    case 'give back':
      set({ hands: {} });
      break;
    case 'rehearse':
      set({ rehearsed: act.look });
      return;
    case 'master':
      set((s) => ({ stage: { ...s.stage, masters: { ...s.stage.masters, [act.master]: act.value } } }));
      return;
    case 'go':
    case 'back':
    case 'cue':
    case 'next':
    case 'look':
    case 'home':
    case 'flash':
    case 'alone':
    case 'page':
      // The conductor tells what became of it, and what it is kept by.
      return;
    case 'touch':
    case 'seek':
    case 'beat now':
    case 'tap':
    case 'bar now':
    case 'bar found':
      return;
  }
  void keepMemory();
}

/** Whether the interface would show two states alike. */
function sameStage(a: StageState, b: StageState): boolean {
  return (
    a.cue === b.cue &&
    a.next === b.next &&
    a.look === b.look &&
    a.phase === b.phase &&
    a.page === b.page &&
    a.leaveOut.join() === b.leaveOut.join() &&
    JSON.stringify(a.masters) === JSON.stringify(b.masters)
  );
}
/** What stood so many bars ago, sound apart. */
export const stood = (barsAgo: number): Promise<Stood> =>
  engine?.stood(barsAgo) ?? Promise.resolve({ values: {}, routes: {} });

export const setDark = (on: boolean): void => perform({ do: 'dark', on });
export const setFreeze = (on: boolean): void => perform({ do: 'freeze', on });
/** Takes a parameter over by hand: routes no longer move it. @param value - one number, or three of a colour in linear light */
export function takeByHand(key: string, value: readonly number[]): void {
  perform({ do: 'hand', key, value });
  recordHand(key, value[0]!);
}
/** Gives a parameter, or all of them, back with a fade. */
export function giveBack(key: string | null = null): void {
  forgetHand(key);
  perform(key === null ? { do: 'give back' } : { do: 'hand', key, value: null });
}
/** Shows a value as if by hand, for as long as something is pointed at; no part of the show. */
export function lendHand(key: string, value: readonly number[] | null): void {
  engine?.perform({ do: 'hand', key, value });
}
/** Moves a hand control, 0 to 1. */
export const touchMaker = (maker: string, value: number): void => perform({ do: 'touch', maker, value });
export const setPlaying = (on: boolean): void => perform({ do: 'play', on });
export const seek = (to: number): void => perform({ do: 'seek', to });
export function allowQuickFlashes(quick: boolean): void {
  engine?.allowQuickFlashes(quick);
  set({ quick });
}
export function identify(identified: string | null): void {
  engine?.identify(identified);
}
/** Asks something of the laser: what becomes of it is in the next report. */
export function askLaser(ask: LaserAsk): void {
  engine?.askLaser(ask);
}
export function arm(armed: boolean): void {
  engine?.arm(armed);
  set({ armed });
}
