import { eigenvalues } from '../linear/eigen';
import { rowNorm, rowTimes } from '../linear/dense';
import { ok, type Problem, type Result } from '../problem';
import { buildLadder, type Ladder } from '../linear/ladder';
import { agentsOf, firstValue, type Agent } from './agents';
import { checkCircuit } from './check';
import type { Circuit, ElementOf } from './elements';
import { isSource, layoutOf, type Layout } from './layout';
import { buildPattern, type Pattern } from './pattern';

/** A switch or diode: what a pattern is made of. */
export interface Device {
  id: string;
  kind: 'switch' | 'diode';
  a: string;
  b: string;
  gate?: string;
  drop: number;
}

/** A pattern made ready to run: its ladder, its guards' rows, and how closely signs must be watched. */
export interface Prepared extends Pattern {
  key: string;
  ladder: Ladder;
  /** Rung of the ladder short enough to see the fastest mode that rings */
  watch: number;
  norm: number;
  /**
   * By guard number: row, row·F, and the sizes that the row's rounding errors are relative to.
   * `still`: row·F is nothing, so that the guard moves with its own slope alone.
   */
  guards: { row: Float64Array; rate: Float64Array; size: Float64Array; still: boolean }[];
}

/** A circuit made ready to run. Guards are numbered: diodes first, then the agents' rows in order. */
export interface Machine {
  circuit: Circuit;
  layout: Layout;
  devices: readonly Device[];
  /** Indices of the diodes among the devices */
  diodes: readonly number[];
  agents: readonly Agent[];
  /** First guard number of each agent */
  guardsFrom: readonly number[];
  /** s: the period of all that repeats, 0 when nothing does */
  period: number;
  prepare(on: Uint8Array): Prepared;
}

/** What goes on at a moment: copy it to resume from there. */
export interface State {
  t: number;
  z: Float64Array;
  /** By device */
  on: Uint8Array;
  /** By agent */
  memory: number[][];
  gates: Record<string, boolean>;
  /** Gate edges that are under way; `cause` is the junction whose time they follow, −1 for a clock */
  pending: { time: number; gate: string; on: boolean; cause: number }[];
}

/** Thrown inside a run and turned into a problem at its edge: patterns are built in the middle of it. */
export class CircuitError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

/**
 * Check a circuit and make it ready to run.
 * @returns the machine, or the first problem: the element and what would mend it
 */
export function buildMachine(circuit: Circuit): Result<Machine> {
  const wrong = checkCircuit(circuit);
  if (wrong) return { ok: false, problem: wrong };
  const agents = agentsOf(circuit);
  const layout = layoutOf(circuit, agents.flatMap((a) => a.held.map((h) => h.replace(/^held /, ''))));
  const devices = circuit.elements
    .filter((e): e is ElementOf<'switch'> | ElementOf<'diode'> => e.kind === 'switch' || e.kind === 'diode')
    .map((e): Device => ({ id: e.id, kind: e.kind, a: e.a, b: e.b, drop: e.kind === 'diode' ? e.drop : 0, ...(e.kind === 'switch' ? { gate: e.gate } : {}) }));
  const diodes = devices.flatMap((d, i) => (d.kind === 'diode' ? [i] : []));
  const guardsFrom: number[] = [];
  let guards = diodes.length;
  for (const a of agents) {
    guardsFrom.push(guards);
    guards += a.rows.length;
  }
  const period = circuit.period ?? Math.max(0, ...agents.map((a) => a.period));
  // Ladders start at the shortest thing that repeats, or at the fastest mode's own time.
  const repeats = agents.map((a) => a.period).filter((p) => p > 0);
  const first = buildPattern(circuit, new Set(), layout);
  if (!first.ok) return first;
  const slowest = 100 / Math.max(1e-3, rowNorm(first.value.F, layout.n));
  const top = repeats.length > 0 ? Math.min(...repeats) / 2 : circuit.period !== undefined ? circuit.period / 64 : Math.min(1e-3, slowest * 1e4);

  const cache = new Map<string, Prepared>();
  const prepare = (on: Uint8Array): Prepared => {
    const key = on.join('');
    let found = cache.get(key);
    if (found) return found;
    const built = buildPattern(circuit, new Set(devices.filter((_, i) => on[i]).map((d) => d.id)), layout);
    if (!built.ok) throw new CircuitError(built.problem);
    const pattern = built.value;
    const { size, F } = pattern;
    const ladder = buildLadder(F, top, size);
    const rows = [
      ...diodes.map((i) => {
        const d = devices[i]!;
        // Positive where the diode's state is wrong: forward while off, reverse while on.
        const row = pattern.voltage(d.a, d.b);
        row[layout.one]! -= d.drop;
        // The two node voltages nearly cancel while it conducts: errors are relative to each of them.
        const [a, b] = [pattern.voltage(d.a), pattern.voltage(d.b)];
        return { row: on[i] ? row.map((v) => -v) : row, size: a.map((v, k) => Math.abs(v) + Math.abs(b[k]!)) };
      }),
      ...agents.flatMap((a) => a.rows.map((r) => r.row(pattern))).map((row) => ({ row, size: row.map(Math.abs) })),
    ];
    found = {
      ...pattern,
      key,
      ladder,
      watch: watchRung(pattern, top, ladder.rungs.length),
      norm: rowNorm(F, size),
      guards: rows.map((g) => {
        const rate = new Float64Array(size);
        rowTimes(g.row, F, rate, size);
        return { ...g, rate, still: rate.every((v) => v === 0) };
      }),
    };
    if (cache.size > 5000) cache.clear();
    cache.set(key, found);
    return found;
  };
  return ok({ circuit, layout, devices, diodes, agents, guardsFrom, period, prepare });
}

/** The rung at which signs are watched: an eighth of the top, finer where a weakly damped mode rings faster. */
function watchRung(p: Pattern, top: number, rungs: number): number {
  const n = p.layout.n;
  const A = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) A[i * n + j] = p.F[i * p.size + j]!;
  let fastest = 0;
  for (const { re, im } of eigenvalues(A, n)) if (Math.abs(re) < 3 * Math.abs(im)) fastest = Math.max(fastest, Math.abs(im));
  const short = fastest > 0 ? Math.PI / 4 / fastest : Infinity;
  const rung = Math.max(3, Math.ceil(Math.log2(top / short)));
  return Math.min(rungs - 2, rung);
}

/** From rest: no currents, no charge, sources at their first values, all gates off. */
export function restState(m: Machine): State {
  const z = new Float64Array(m.layout.size);
  z[m.layout.one] = 1;
  for (const e of m.circuit.elements) {
    if (!isSource(e)) continue;
    const { value, quadrature } = firstValue(e.value);
    z[m.layout.column.get(e.id)!] = value;
    const q = m.layout.column.get(`${e.id} quadrature`);
    if (q !== undefined) z[q] = quadrature;
  }
  return { t: 0, z, on: new Uint8Array(m.devices.length), memory: m.agents.map((a) => a.begin()), gates: {}, pending: [] };
}

/** A copy that shares nothing: run one, keep the other. */
export const copyState = (s: State): State => ({
  t: s.t,
  z: s.z.slice(),
  on: s.on.slice(),
  memory: s.memory.map((m) => [...m]),
  gates: { ...s.gates },
  pending: s.pending.map((p) => ({ ...p })),
});

export const guardOwner = (m: Machine, guard: number): string => {
  if (guard < m.diodes.length) return m.devices[m.diodes[guard]!]!.id;
  const agent = m.guardsFrom.findLastIndex((from) => from <= guard);
  return m.agents[agent]!.id;
};

