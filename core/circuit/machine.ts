import { rowNorm, rowTimes } from '../linear/dense';
import { modalRow, modesOf } from '../linear/modes';
import { noWork, type Work } from '../linear/tolerance';
import { ok, type Problem, type Result } from '../problem';
import { buildStepTable, type StepTable } from '../linear/stepTable';
import { eventSourcesOf, firstValue, toneAt, type EventSource } from './eventSources';
import { checkCircuit } from './check';
import { devicesOf, isBent, type Device } from './devices';
import type { Circuit } from './elements';
import { CircuitError } from './error';
import { isSource, layoutOf, tonesOf, type Layout } from './layout';
import { commonPeriod } from './period';
import { buildPattern, type Pattern } from './pattern';

/** A pattern made ready to run: its step table, its guards' rows, and how closely signs must be watched. */
export interface Prepared extends Pattern {
  /** Its own number: patterns of one machine are told apart by it */
  key: number;
  stepTable: StepTable;
  /** Rung of the step table short enough for the fastest mode that rings, sources included */
  readonly watch: number;
  norm: number;
  /** By guard number */
  guards: PatternGuard[];
  work: Work;
}

/**
 * A guard in one pattern: its row, row·F, and the sizes that the row's rounding errors are relative to.
 * `still`: row·F is nothing, so that the guard moves with its own slope alone.
 */
export interface PatternGuard {
  row: Float64Array;
  rate: Float64Array;
  size: Float64Array;
  still: boolean;
  /** Its row at the very beginning of the pattern, where something of it is eliminated */
  entry?: Float64Array;
  /** What each mode moves of it, from when it is first asked for */
  modal?: Float64Array;
}

/** What each mode of the pattern moves of a guard. */
export const modalOf = (p: Prepared, g: PatternGuard): Float64Array => (g.modal ??= modalRow(modesOf(p.stepTable), g.row));

/** A circuit made ready to run. Guards are numbered: those of bent devices first (down and up), then the event sources' rows in order. */
export interface Machine {
  circuit: Circuit;
  layout: Layout;
  devices: readonly Device[];
  /** Indices of the bent devices: bent[k] has guards 2k (to the segment below) and 2k+1 (to the one above) */
  bent: readonly number[];
  eventSources: readonly EventSource[];
  /** First guard number of each event source */
  guardsFrom: readonly number[];
  /** s: the smallest period of all that repeats, or the one stated; 0 when nothing does */
  period: number;
  /** Why there is no such period, when two things that repeat do not fit into one: runs do not mind, cycles do */
  clash?: Problem;
  /** s: the shortest that repeats; Infinity when nothing does */
  fastest: number;
  prepare(segments: Uint16Array): Prepared;
  /** The same with nothing eliminated of it: for the moments in which what leakages hold apart comes together */
  whole(segments: Uint16Array): Prepared;
  /** What has been done on this machine so far */
  work: Work;
}

/** What goes on at a moment: copy it to resume from there. */
export interface State {
  t: number;
  z: Float64Array;
  /** By device */
  segments: Uint16Array;
  /** By event source */
  memory: number[][];
  gates: Record<string, boolean>;
  pending: Pending[];
}

/** What is under way: an edge of a gate, or a moment that an event source wants to be called at. */
export type Pending = {
  time: number;
  /** The event whose time it follows, −1 for a clock, −2 for an event of an earlier run */
  cause: number;
} & ({ gate: string; on: boolean } | { wake: number });

/**
 * Check a circuit and make it ready to run.
 * @returns the machine, or the first problem: the element and what would mend it
 */
export function buildMachine(circuit: Circuit): Result<Machine> {
  const wrong = checkCircuit(circuit);
  if (wrong) return { ok: false, problem: wrong };
  const eventSources = eventSourcesOf(circuit);
  const layout = layoutOf(circuit, eventSources.flatMap((a) => a.held.map((h) => h.replace(/^held /, ''))));
  const devices = devicesOf(circuit);
  const bent = devices.flatMap((d, i) => (isBent(d) ? [i] : []));
  const guardsFrom: number[] = [];
  let guards = 2 * bent.length;
  for (const a of eventSources) {
    guardsFrom.push(guards);
    guards += a.rows.length;
  }
  const common = commonPeriod(circuit, eventSources);
  const period = common.ok ? common.value : 0;
  // Step tables start at the shortest thing that repeats, or at the fastest mode's own time.
  const repeats = eventSources.map((a) => a.period).filter((p) => p > 0);
  const fastest = Math.min(Infinity, ...repeats, ...circuit.elements.filter(isSource).flatMap((e) => tonesOf(e.value).map((t) => 1 / t.frequency)));
  const slower = repeats.length > 0 ? Math.min(...repeats) : (circuit.period ?? 0);
  const first = buildPattern(circuit, new Map(), layout, slower);
  if (!first.ok) return first;
  const slowest = 100 / Math.max(1e-3, rowNorm(first.value.F, layout.n));
  const top = repeats.length > 0 ? Math.min(...repeats) / 2 : circuit.period !== undefined ? circuit.period / 64 : Math.min(1e-3, slowest * 1e4);

  // Patterns are known by their segments, a character each: any number of devices, with no arithmetic to overflow.
  const cache = new Map<string, Prepared>();
  const work = noWork();
  let bytes = 0;
  /** The latest few, which are asked for again nearly always */
  const latest: { segments: Uint16Array; whole: boolean; found: Prepared }[] = [];
  const prepare = (segments: Uint16Array, whole = false): Prepared => {
    for (const l of latest) if (l.whole === whole && alike(l.segments, segments)) return l.found;
    const found = lookUp(segments, whole);
    if (latest.length >= LATEST) latest.shift();
    latest.push({ segments: segments.slice(), whole, found });
    return found;
  };
  const lookUp = (segments: Uint16Array, whole: boolean): Prepared => {
    const name = (whole ? 'whole ' : '') + String.fromCharCode(...segments);
    const known = cache.get(name);
    if (known) return known;
    const atStart = !whole && devices.every((d, i) => segments[i] === d.start);
    const built = atStart ? first : buildPattern(circuit, new Map(devices.map((d, i) => [d.id, segments[i]!])), layout, whole ? 0 : slower);
    if (!built.ok) throw new CircuitError(built.problem);
    const pattern = built.value;
    const { size, F } = pattern;
    const stepTable = buildStepTable(F, top, size);
    const rows = [
      ...bent.flatMap((i) => {
        const { bounds, measure } = devices[i]!;
        const { row, size: own } = measure(pattern);
        const sizes = pattern.entry ? largerOf(own, measure({ ...pattern, ...pattern.entry.terms }).row) : own;
        const early = pattern.entry && measure({ ...pattern, ...pattern.entry }).row;
        return [bounds[segments[i]! - 1], bounds[segments[i]!]].map((bound, upwards) => {
          // Positive where the segment is left; where there is none beyond, never.
          const guard = bound === undefined ? new Float64Array(size) : upwards ? row.slice() : row.map((v) => -v);
          guard[layout.one]! += bound === undefined ? -1 : upwards ? -bound : bound;
          if (!early || bound === undefined) return { row: guard, size: sizes };
          const entry = upwards ? early.slice() : early.map((v) => -v);
          entry[layout.one]! += upwards ? -bound : bound;
          return { row: guard, size: sizes, entry };
        });
      }),
      ...eventSources.flatMap((a) => a.rows.map((r) => {
        const row = r.row(pattern);
        const own = row.map(Math.abs);
        return { row, size: pattern.entry ? largerOf(own, r.row({ ...pattern, ...pattern.entry.terms })) : own };
      })),
    ];
    let watch: number | undefined;
    const found: Prepared = {
      ...pattern,
      key: work.patterns++,
      stepTable,
      get watch() {
        return (watch ??= watchRung(stepTable));
      },
      norm: rowNorm(F, size),
      guards: rows.map((g) => {
        const rate = new Float64Array(size);
        rowTimes(g.row, F, rate, size);
        return { ...g, rate, still: rate.every((v) => v === 0) };
      }),
      work,
    };
    bytes += 8 * (size * size * (stepTable.rungs.length + 8) + 4 * rows.length * size);
    if (bytes > MOST_BYTES) {
      cache.clear();
      latest.length = 0;
      bytes = 0;
    }
    cache.set(name, found);
    return found;
  };
  return ok({ circuit, layout, devices, bent, eventSources, guardsFrom, period, ...(common.ok ? {} : { clash: common.problem }), fastest, prepare: (s) => prepare(s), whole: (s) => prepare(s, true), work });
}

const LATEST = 4;

function alike(a: Uint16Array, b: Uint16Array): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

const largerOf = (a: Float64Array, b: Float64Array): Float64Array => a.map((v, i) => Math.max(v, Math.abs(b[i]!)));

/** What prepared patterns may take before they are forgotten and made anew. */
const MOST_BYTES = 256 * 2 ** 20;

/** The rung that is short against the fastest mode that rings, sources included: an eighth of its turn. */
function watchRung(stepTable: StepTable): number {
  const { im, re, count } = modesOf(stepTable);
  let fastest = 0;
  for (let k = 0; k < count; k++) if (Math.abs(re[k]!) < 3 * im[k]!) fastest = Math.max(fastest, im[k]!);
  const short = fastest > 0 ? Math.PI / 4 / fastest : Infinity;
  return Math.min(stepTable.rungs.length - 2, Math.max(1, Math.ceil(Math.log2(stepTable.top / short))));
}

/** From rest: no currents, no charge, sources and memories at their first values, all gates off. */
export function restState(m: Machine): State {
  const z = new Float64Array(m.layout.size);
  z[m.layout.one] = 1;
  for (const e of m.circuit.elements) {
    if (!isSource(e)) continue;
    z[m.layout.column.get(e.id)!] = firstValue(e.value);
  }
  setTones(m, z, 0);
  for (const e of m.circuit.elements)
    if (e.kind === 'sampled-control') for (const [name, value] of Object.entries(e.memory)) z[m.layout.column.get(`held ${e.id}.${name}`)!] = value;
  return { t: 0, z, segments: Uint16Array.from(m.devices, (d) => d.start), memory: m.eventSources.map((a) => a.begin()), gates: {}, pending: [] };
}

/** Put the tones of all sources to what they are at `t` s. */
export function setTones(m: Machine, z: Float64Array, t: number): void {
  for (const e of m.circuit.elements)
    if (isSource(e))
      tonesOf(e.value).forEach((tone, k) => {
        const [sine, cosine] = toneAt(tone, t);
        z[m.layout.column.get(`${e.id} tone ${k}`)!] = sine;
        z[m.layout.column.get(`${e.id} quadrature ${k}`)!] = cosine;
      });
}

/** A copy that shares nothing: run one, keep the other. */
export const copyState = (s: State): State => ({
  t: s.t,
  z: s.z.slice(),
  segments: s.segments.slice(),
  memory: s.memory.map((m) => [...m]),
  gates: { ...s.gates },
  pending: s.pending.map((p) => ({ ...p })),
});

/** Id of the device or event source that watches a guard, by the number of the guard. */
export const guardOwner = (m: Machine, guard: number): string => {
  if (guard < 2 * m.bent.length) return m.devices[m.bent[guard >> 1]!]!.id;
  const eventSource = m.guardsFrom.findLastIndex((from) => from <= guard);
  return m.eventSources[eventSource]!.id;
};

