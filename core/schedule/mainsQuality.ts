import type { Design } from '../design/schema';
import { topologyOf } from '../design/topologyOf';
import { closedDesign, type ClosedDesign } from '../evaluation/closedDesign';
import { dot } from '../linear/dense';
import { cycleIntegrals, measure, type Quantity } from '../orbit/measure';
import { harmonicsOf } from '../orbit/spectrum';
import type { SettledCycle } from '../orbit/settle';
import type { Roles } from '../converter/roles';
import { fail, ok, type Result } from '../problem';
import { LAST_ORDER, qualityOf, type EquipmentClass, type CurrentQuality } from '../surroundings/drawnCurrent';
import type { OperatingPoint } from '../topology';
import { otherHalfOf } from '../evaluation/mainsWhole';
import { inrushRun, type InrushRun } from './inrushRun';
import { wholeMains } from './onMains';

/** What a design draws from the mains at a point, and what it makes of it. */
export interface MainsQuality extends CurrentQuality {
  /** The class that its harmonics are held against */
  of: EquipmentClass;
  /** Hz of the mains that was settled: that nearest to the brief's which whole switching periods fit into */
  frequency: number;
  /** V: mean of the output, and what it swings by over the mains */
  output: { mean: number; peakToPeak: number };
  /** |x(T) − x(0)|, relative */
  closure: number;
  /** Switching periods in the cycle */
  periods: number;
  /** A rms of what is drawn beyond the harmonics that standards look at: the ripple of the switching */
  ripple: number;
  /** A rms of what is left without it: what the fast answer by angles is compared with */
  smooth: number;
}

/** A cycle of the mains as it is drawn: every event of it, so that it can be looked at down to the edges. */
export interface MainsCourse {
  /** s, ascending */
  time: number[];
  /** The part whose current is drawn beside that of the line */
  wound: string;
  /** A of the line and of that part, V of the line and of the output */
  line: number[];
  inductor: number[];
  voltage: number[];
  output: number[];
  /** By switching period: s of its beginning, and the share that the switch is on for */
  period: number[];
  duty: number[];
}

interface SettledMains {
  closed: ClosedDesign;
  cycle: SettledCycle;
  roles: Roles;
  frequency: number;
}

/** The whole circuit's settled cycle of the mains. Problem "range" on a dc line. */
function settledMains(d: Design, point: OperatingPoint): Result<SettledMains> {
  if (d.brief.line.mains === undefined) return fail('range', 'brief.line', 'this line is dc and has no harmonics', 'give it a mains frequency, or leave this out');
  const found = closedDesign(d, point);
  if (!found.ok) return found;
  const whole = wholeMains(d, point, found.value);
  const settled = whole.settled();
  return settled.ok ? ok({ closed: found.value, cycle: settled.value.cycle, roles: whole.with(undefined).roles, frequency: 1 / whole.period }) : settled;
}

/** Is one of the switches on of which one at a time puts the mains across what is wound? */
function puttingOn({ closed: { bill }, roles }: Pick<SettledMains, 'closed' | 'roles'>): (s: SettledCycle['intervals'][number] | undefined) => boolean {
  const { alternates } = roles.mains!;
  const all = [bill.topology.mains!.switch, ...(alternates === undefined ? [] : [otherHalfOf(roles.parts[alternates]!.elements[1]!)])];
  return (s) => s !== undefined && all.some((id) => s.pattern.on.has(id));
}

/** So often does one of them close in a cycle. */
const closings = ({ intervals }: SettledCycle, isOn: ReturnType<typeof puttingOn>): number => intervals.filter((s, k) => isOn(s) && !isOn(intervals[k - 1])).length;

/** What is drawn, and the volts of the mains, as rows of a pattern. */
const drawnBy = ({ line }: Roles): Quantity => (p) => p.current(line).map((v) => -v);
const mainsVolts: Quantity = (p) => p.voltage('mains', 'neutral');

function qualityIn(d: Design, { closed, cycle, roles, frequency }: SettledMains, of: EquipmentClass): MainsQuality {
  const g = cycleIntegrals(cycle);
  const current = drawnBy(roles);
  const [i, v] = harmonicsOf(g, [current, mainsVolts], LAST_ORDER) as [ReturnType<typeof harmonicsOf>[number], ReturnType<typeof harmonicsOf>[number]];
  const drawn = measure(g, current);
  const output = measure(g, (p) => p.voltage(...roles.outputs[0]!.nodes));
  const smooth = Math.sqrt(i.reduce((sum, h, n) => sum + (n === 0 ? h.amplitude ** 2 : h.amplitude ** 2 / 2), 0));
  return { ...qualityOf(v[1]!, i, drawn.rms, Math.max(drawn.max, -drawn.min), of), of, frequency, output: { mean: output.mean, peakToPeak: output.peakToPeak }, closure: cycle.closure, periods: closed.stage.assembled.drive.free ? closings(cycle, puttingOn({ closed, roles })) : Math.round(d.brief.frequency / frequency), ripple: Math.sqrt(Math.max(0, drawn.rms ** 2 - smooth ** 2)), smooth };
}

/**
 * The settled cycle of the mains of the whole circuit (rectifier, filter, cascade), read by its line: as well as the controller makes it and no
 * better. Harmonics are exact over the cycle.
 * @param of the class that harmonics are held against; that of the brief where left out
 * @returns problems as of closing and settling it; "range" on a dc line
 */
export function mainsQuality(d: Design, point: OperatingPoint, of: EquipmentClass = d.brief.equipmentClass ?? 'A'): Result<MainsQuality> {
  const found = settledMains(d, point);
  return found.ok ? ok(qualityIn(d, found.value, of)) : found;
}

/** The same with the course of it all over the cycle, and what is drawn as it is plugged in. */
export function mainsStudy(d: Design, point: OperatingPoint): Result<{ quality: MainsQuality; course: MainsCourse; inrush?: InrushRun }> {
  const found = settledMains(d, point);
  if (!found.ok) return found;
  const inrush = inrushRun(d, point, found.value.closed);
  return ok({ quality: qualityIn(d, found.value, d.brief.equipmentClass ?? 'A'), course: courseOf(found.value, 1 / d.brief.frequency, woundOf(d, found.value.roles)), ...(inrush.ok ? { inrush: inrush.value } : {}) });
}

/** What is wound and carries what is drawn: the inductor, or the transformer whose core is filled in pulses. */
const woundOf = (d: Design, { mains, line }: Roles): string => (mains!.current === line ? topologyOf(d)!.mains!.rests! : mains!.current);

function courseOf({ closed, cycle, roles }: SettledMains, T: number, wound: string): MainsCourse {
  const isOn = puttingOn({ closed, roles });
  const quantities: Record<'line' | 'inductor' | 'voltage' | 'output', Quantity> = { line: drawnBy(roles), inductor: (p) => p.current(wound), voltage: mainsVolts, output: (p) => p.voltage(...roles.outputs[0]!.nodes) };
  const course: MainsCourse = { wound, time: [], line: [], inductor: [], voltage: [], output: [], period: [], duty: [] };
  const see = (t: number, of: (q: Quantity) => number): void => {
    course.time.push(t);
    for (const [key, q] of Object.entries(quantities)) course[key as keyof typeof quantities].push(of(q));
  };
  const on = new Float64Array(Math.round(cycle.period / T));
  for (const s of cycle.intervals) {
    const { size } = s.pattern;
    see(s.start, (q) => dot(q(s.pattern), s.z0, size));
    const k = Math.min(on.length - 1, Math.floor((s.start + s.duration / 2) / T));
    if (isOn(s)) on[k]! += s.duration;
  }
  const first = cycle.intervals[0]!;
  see(cycle.intervals.at(-1)!.start + cycle.intervals.at(-1)!.duration, (q) => dot(q(first.pattern), first.z0, first.pattern.size));
  course.period = Array.from(on, (_, k) => k * T);
  course.duty = Array.from(on, (v) => v / T);
  return course;
}
