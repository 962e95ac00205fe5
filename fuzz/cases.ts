import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { machineSpeed, ORDINARY } from '../bench/measure';
import { judge } from '../core/corners/corners';
import { AMPLIFIERS, DISCRETISATIONS, STRUCTURES } from '../core/control';
import { readDesign } from '../core/design';
import { evaluate } from '../core/evaluation';
import { buildMachine, type Machine } from '../core/circuit/machine';
import { readCircuit } from '../core/interchange/circuitFile';
import { usualProbes } from '../core/interchange/probe';
import { DEFAULT_TOLERANCE } from '../core/linear/tolerance';
import { budgetOf } from '../core/orbit/budget';
import { scalesOf } from '../core/orbit/cycle';
import { march } from '../core/orbit/march';
import { cycleIntegrals, measure } from '../core/orbit/measure';
import { powersOf } from '../core/orbit/power';
import { roundingOf } from '../core/orbit/rounding';
import { settleCycle, type SettledCycle } from '../core/orbit/settle';
import { doubt, multipliers } from '../core/orbit/stability';
import { restState } from '../core/circuit/machine';
import { SmallSignal } from '../core/response/exact';
import { broken, promises, sizingInputs } from '../core/testing/briefs';
import { converter, network, plain } from '../core/testing/networks';
import { TOPOLOGIES } from '../core/topology';

/**
 * One case of the fuzz: a number in, a line of JSON out. The same number draws the same case again.
 * What it looks for: exceptions, numbers that are none, cycles that marching does not keep, power that goes astray,
 * figures that sizing has promised otherwise.
 */

export interface Verdict {
  seed: number;
  kind: string;
  /** What came of it in a word: "cycle", "refused no-cycle", … */
  outcome: string;
  fault?: string;
  /** The case itself, where it failed */
  input?: unknown;
}

const draw = <T>(a: fc.Arbitrary<T>, seed: number): T => fc.sample(fc.noBias(a), { seed, numRuns: 1 })[0]!;

/** Every number below a value that is none. */
function strange(value: unknown, path = ''): string | undefined {
  if (typeof value === 'number') return Number.isNaN(value) ? path : undefined;
  if (value === null || typeof value !== 'object' || ArrayBuffer.isView(value)) return undefined;
  for (const [key, inner] of Object.entries(value)) {
    const found = strange(inner, `${path}.${key}`);
    if (found !== undefined) return found;
  }
  return undefined;
}

/** ns of an ordinary machine that marching beside a cycle may take: it is the referee, not what is judged */
const REFEREE = 1e9;

/** Did the last case have another cycle besides, that rest leads to? A circuit may latch. */
let elsewhere = false;

/** How far a cycle is from itself after some more periods, and one marched from rest from it, where both come to rest. */
function againstMarching(m: Machine, cycle: SettledCycle, sure: Record<'V' | 'A', number>): string | undefined {
  const columns = Array.from({ length: m.layout.n }, (_, i) => i);
  // A state that stands at zero where intervals begin has no scale of its own: what is rounding in the circuit is nothing.
  const scale = scalesOf(m.layout, cycle.intervals, columns).map((v, i) => Math.max(v, 1e-9, 1e6 * (sure[m.layout.kind[i] as 'V' | 'A'] ?? 0)));
  const apart = (z: Float64Array): number => columns.reduce((worst, i) => Math.max(worst, Math.abs(z[i]! - cycle.state.z[i]!) / scale[i]!), 0);
  const most = multipliers(cycle)[0]?.size ?? 0;
  // A cycle is of the time before anything moves once: a run would meet it.
  if (m.eventSources.some((a) => a.once)) return undefined;
  // An unstable cycle is left by rounding alone.
  if (most >= 1) return undefined;
  const later = march(m, cycle.state, cycle.state.t + 20 * cycle.period, { events: 20_000, budget: budgetOf(m, REFEREE) });
  if (!later.ok) return later.problem.code === 'events' || later.problem.code === 'work' ? undefined : `marching on from the cycle: ${later.problem.code} ${later.problem.where}`;
  if (apart(later.value.z) > 1e-6) return `the cycle does not stay: ${apart(later.value.z).toExponential(1)} off after 20 periods`;
  if (!(most < 0.97)) return undefined;
  const periods = Math.ceil(Math.log(1e-10) / Math.log(Math.max(most, 0.5))) + 20;
  const run = march(m, restState(m), cycle.state.t + periods * cycle.period, { events: 60_000, budget: budgetOf(m, REFEREE) });
  if (!run.ok) return undefined;
  if (apart(run.value.z) < 1e-6) return undefined;
  // Another cycle may be there as well: only a run that has come to rest elsewhere counts, and is said.
  // What rings on its way is still for a moment at each of its turns: it is given as long once more.
  const further = march(m, run.value, run.value.t + periods * cycle.period, { events: 60_000, budget: budgetOf(m, REFEREE) });
  if (!further.ok || apart(further.value.z) < 1e-6) return undefined;
  const on = march(m, run.value, run.value.t + cycle.period, { events: 20_000 });
  const still = on.ok && columns.every((i) => Math.abs(on.value.z[i]! - run.value.z[i]!) <= 1e-8 * scale[i]!);
  if (still) elsewhere = true;
  return undefined;
}

function circuitCase(kind: string, seed: number, input: Record<string, unknown>, strict: boolean): Verdict {
  const verdict = (outcome: string, fault?: string): Verdict => ({ seed, kind, outcome, ...(fault === undefined ? {} : { fault, input }) });
  const read = readCircuit(JSON.stringify(input));
  if (!read.ok) return verdict(`refused ${read.problem.code}`, read.problem.remedy.length < 5 ? 'no remedy' : undefined);
  const built = buildMachine(read.value);
  if (!built.ok) return verdict(`refused ${built.problem.code}`, built.problem.remedy.length < 5 ? 'no remedy' : undefined);
  const m = built.value;
  const settled = settleCycle(m);
  if (!settled.ok) {
    if (strict) return verdict(`no cycle: ${settled.problem.code}`, `a converter without a cycle: ${settled.problem.message}`);
    return verdict(`no cycle: ${settled.problem.code}`, settled.problem.remedy.length < 5 ? 'no remedy' : undefined);
  }
  const cycle = settled.value;
  const filled = cycle.intervals.reduce((sum, s) => sum + s.duration, 0);
  if (!(Math.abs(filled / cycle.period - 1) < 1e-9)) return verdict('cycle', `its stretches make ${filled} s of ${cycle.period} s`);
  const g = cycleIntegrals(cycle);
  const all = usualProbes(read.value).map((p) => ({ p, found: measure(g, p.row) }));
  // Figures are good to their share of the largest of their unit, and to the rounding of the terms that they are summed
  // from: 10 MΩ makes volts of what two currents of 100 A differ by in their last digits.
  const terms = all.map(({ p }) => Math.max(...cycle.intervals.map((s) => p.row(s.pattern).reduce((sum, v, i) => sum + Math.abs(v * s.z0[i]!), 0))));
  const [most, sure] = [{ V: 0, A: 0 }, { V: 1e-9, A: 1e-9 }];
  all.forEach(({ p, found }, k) => {
    most[p.unit] = Math.max(most[p.unit], Math.abs(found.max), Math.abs(found.min));
    sure[p.unit] = Math.max(sure[p.unit], DEFAULT_TOLERANCE.noise * terms[k]!);
  });
  // What is held loosely is known as well as it says.
  const share = Math.max(1e-8, doubt(cycle));
  for (const unit of ['V', 'A'] as const) sure[unit] = Math.max(sure[unit], share * most[unit]);
  const rounding = roundingOf(cycle);
  for (const { p, found } of all) {
    // Walked in two or three steps it is as far off as that; in another number of them a few times more.
    const within = Math.max(sure[p.unit], 10 * rounding(p.row));
    const at = strange(found);
    if (at !== undefined) return verdict('cycle', `${p.name}${at} is no number`);
    if (!(found.rms >= Math.abs(found.mean) - within) || found.max < found.mean - within || found.min > found.mean + within) return verdict('cycle', `${p.name}: mean ${found.mean}, rms ${found.rms}, ${found.min} to ${found.max} do not go together`);
  }
  const power = powersOf(read.value, g);
  // What circulates between sources and reactances may be far more than what is burnt, and what is stored may drift by what
  // is left open of it: each interval rounds its states to their last place, and 6 H at 380 A with it.
  const stored = read.value.elements.reduce((sum, e) => sum + (e.kind === 'inductor' ? e.inductance * most.A ** 2 : e.kind === 'capacitor' ? e.capacitance * most.V ** 2 : 0), 0);
  // What begins in an unstable balance is rounding grown large: as little is known of its power as of the rest.
  const grown = all.reduce((worst, { p }) => Math.max(worst, (10 * rounding(p.row)) / (most[p.unit] || 1)), 0);
  const astray = Math.abs(power.residual) * power.given;
  if (astray > Math.max(1e-6, share, grown) * power.given + 1e-2 * (sure.V * most.A + sure.A * most.V) + ((cycle.closure + Math.max(1e-15, Number.EPSILON * cycle.intervals.length)) * stored) / cycle.period + 1e-8) return verdict('cycle', `power astray: ${power.residual.toExponential(1)} of ${power.given.toPrecision(3)} W`);
  const source = read.value.elements.find((e) => e.kind === 'voltage-source' && typeof e.value === 'number');
  if (source) {
    const values = new SmallSignal(m, cycle).respond(source.id, usualProbes(read.value).slice(0, 3).map((p) => p.row), [0.01, 0.1, 0.37].map((x) => x / cycle.period));
    const at = strange(values);
    if (at !== undefined) return verdict('cycle', `response${at} is no number`);
  }
  elsewhere = false;
  const fault = againstMarching(m, cycle, sure);
  return verdict(elsewhere ? 'cycle, and another from rest' : 'cycle', strict && elsewhere ? 'marching from rest comes to another cycle' : fault);
}

const DEMOS = readdirSync('demo').filter((f) => f.endsWith('.json')).map((f) => readFileSync(`demo/${f}`, 'utf8'));

/** A demo, controlled in one way or another, with a few of its values changed, by factors or to something that is none. */
function designCase(seed: number): Verdict {
  const random = draw(fc.record({ demo: fc.nat(DEMOS.length - 1), control: fc.option(fc.record({ method: fc.constantFrom(...STRUCTURES.map((s) => s.id)), amplifier: fc.constantFrom(...AMPLIFIERS.map((a) => a.id)), sampled: fc.constantFrom('none', 'none', ...DISCRETISATIONS.map((m) => m.id)) })), picks: fc.array(fc.tuple(plain(0, 1), fc.oneof({ weight: 9, arbitrary: fc.constantFrom<unknown>(1e-3, 0.1, 0.5, 0.7, 0.9, 1.1, 1.4, 2, 10, 1e3) }, { weight: 1, arbitrary: fc.constantFrom<unknown>(1e300, -1, 0, null, 'x', '22 µH', [], {}, true) })), { minLength: 1, maxLength: 4 }), x: plain(0, 1), y: plain(0, 1) }), seed);
  const raw = JSON.parse(DEMOS[random.demo]!) as Record<string, unknown>;
  if (random.control) Object.assign(raw.control as object, random.control);
  const leaves: { at: Record<string, unknown>; key: string }[] = [];
  const visit = (at: Record<string, unknown>): void => {
    for (const key of Object.keys(at)) {
      if (typeof at[key] === 'object' && at[key] !== null) visit(at[key] as Record<string, unknown>);
      else leaves.push({ at, key });
    }
  };
  visit(raw);
  for (const [share, by] of random.picks) {
    const { at, key } = leaves[Math.floor(share * (leaves.length - 1))]!;
    // Factors are for numbers; what is strange is put anywhere.
    if (typeof by !== 'number' || !(by > 0) || by > 1e9) at[key] = by;
    else if (typeof at[key] === 'number') at[key] = (at[key] as number) * by;
  }
  const verdict = (outcome: string, fault?: string): Verdict => ({ seed, kind: 'design', outcome, ...(fault === undefined ? {} : { fault, input: raw }) });
  const read = readDesign(JSON.stringify(raw));
  if (!read.ok) return verdict(`refused ${read.problem.code}`, read.problem.remedy.length < 5 ? 'no remedy' : undefined);
  const d = read.value;
  const { line, load, air } = d.brief;
  const point = { line: line.min + random.x * (line.max - line.min), load: load.min + random.y * (load.max - load.min), air: air.max };
  const found = evaluate(d, point);
  for (const s of judge(d, point, found).requirements) if (Number.isNaN(s.room)) return verdict('figures', `the room of ${s.id} is no number`);
  if (!found.ok) return verdict(`no figures: ${found.problem.code}`, found.problem.remedy.length < 5 ? 'no remedy' : undefined);
  const { loop, ...rest } = found.value;
  // Margins of a curve that does not cross do not exist, and say so; nothing else may be missing.
  const at = strange(rest) ?? (loop && loop.beyond === undefined ? strange({ ...loop, phaseCrossover: 0 }) : undefined);
  if (at !== undefined) return verdict('figures', `figures${at} is no number`);
  const { efficiency } = found.value.losses;
  return verdict('figures', efficiency > 0 && efficiency < 1 ? undefined : `an efficiency of ${efficiency}`);
}

/** A brief inside of a topology's domain: what sizing promises, held. */
function briefCase(seed: number): Verdict {
  const topology = TOPOLOGIES[seed % TOPOLOGIES.length]!;
  const input = draw(sizingInputs(topology), seed);
  const refused = topology.refuses(input.brief);
  if (refused) return { seed, kind: `brief ${topology.id}`, outcome: `refused ${refused.code}` };
  const { kept } = promises(topology, input);
  const first = kept.find(broken);
  return { seed, kind: `brief ${topology.id}`, outcome: 'held', ...(first ? { fault: `${first.what}: ${first.promised} promised, ${first.found} found`, input: input.brief } : {}) };
}

export function runCase(seed: number): Verdict {
  const turn = seed % 10;
  if (turn < 4) return circuitCase('network', seed, draw(network, seed), false);
  if (turn < 7) return circuitCase('converter', seed, draw(converter, seed), true);
  return turn < 9 ? designCase(seed) : briefCase(Math.floor(seed / 10));
}

process.on('message', (seed: number) => {
  let verdict: Verdict;
  const before = process.cpuUsage();
  try {
    verdict = runCase(seed);
  } catch (error) {
    verdict = { seed, kind: 'exception', outcome: 'exception', fault: String((error as Error).stack).split('\n').slice(0, 4).join(' | ') };
  }
  // Computing alone counts: other work on the machine is no fault of the case's.
  const { user, system } = process.cpuUsage(before);
  const seconds = (user + system) / 1e6;
  // Long ones as they would be on the ordinary machine of the bench, by its yardstick.
  process.send!({ ...verdict, seconds: seconds > 5 ? (seconds * ORDINARY) / Math.max(ORDINARY, machineSpeed()) : seconds });
});

// By hand: node cases.mjs SEED
if (!process.send && process.argv[2] !== undefined) console.log(JSON.stringify(runCase(Number(process.argv[2])), null, 1));
