import { CIRCUIT_KIND, type Element } from '../circuit/elements';
import { buildMachine, restState } from '../circuit/machine';
import type { Design } from '../design/schema';
import type { ClosedDesign } from '../evaluation/closedDesign';
import { noWork } from '../linear/tolerance';
import { emptyTrace, march } from '../orbit/march';
import { cycleIntegrals, range } from '../orbit/measure';
import { ok, type Result } from '../problem';
import { LINE } from '../surroundings/line';
import { crestOf } from '../surroundings/mains';
import type { OperatingPoint } from '../topology';
import { withBodies } from './failing';
import { wholeMains } from './onMains';

/** What is drawn as the mains is plugged in: A at its largest, and A without the resistor where there is one in its way. */
export interface InrushRun {
  peak: number;
  bare?: number;
}

/** Ω, and Ω at 50 Hz, of the mains itself: the reference impedance of IEC TR 60725, phase and neutral together */
const MAINS = { resistance: 0.4, inductance: 0.25 / (2 * Math.PI * 50) };
/** Ω beside its inductance */
const WIRING = 1e4;
/** The node behind the mains' own impedance, and that behind its resistance */
const [PLUG, WITHIN] = ['plug', 'within the mains'];
/** Where a sine begins at its crest, ° */
const CREST = 90;

/** The circuit at rest, without what controls it: its switches are open. */
const still = (e: Element): Element[] => (e.kind === 'switch' ? [{ kind: 'resistor', id: e.id, a: e.a, b: e.b, resistance: 1 / e.offConductance }] : e.kind === 'sampled-control' ? [] : [e]);

/** The mains as it is at a plug, switched on at the crest of the highest line, a resistor behind it. */
function plug(e: Extract<Element, { kind: 'voltage-source' }>, volts: number, ohms: number): Element[] {
  if (typeof e.value !== 'object' || e.value.shape !== 'sine') return [e];
  return [
    { ...e, a: WITHIN, value: { ...e.value, amplitude: volts, phase: CREST } },
    { kind: 'inductor', id: PLUG, a: WITHIN, b: PLUG, inductance: MAINS.inductance },
    // A filter's inductance may follow: what wiring loses at high frequencies sets the node between.
    { kind: 'resistor', id: `${PLUG} damping`, a: WITHIN, b: PLUG, resistance: WIRING },
    { kind: 'resistor', id: `${PLUG} resistance`, a: PLUG, b: e.a, resistance: MAINS.resistance + ohms },
  ];
}

/** A at the largest within half a cycle. */
function plugged(d: Design, point: OperatingPoint, found: ClosedDesign, ohms: number): Result<number> {
  const whole = wholeMains(d, point, found);
  const { elements, roles } = whole.with(undefined);
  const own = withBodies(elements, roles, found.bill.input.parts, (a, b) => found.stage.measure({ voltage: [a, b] }).mean).flatMap((e) => (e.id === LINE && e.kind === 'voltage-source' ? plug(e, crestOf(d.brief.line.max), ohms) : still(e)));
  const machine = buildMachine({ kind: CIRCUIT_KIND, version: 1, name: '', elements: own, modulators: [] });
  if (!machine.ok) return machine;
  const trace = emptyTrace();
  const run = march(machine.value, restState(machine.value), whole.period / 2, { trace });
  if (!run.ok) return run;
  const period = whole.period / 2;
  const { max, min } = range(cycleIntegrals({ period, intervals: trace.intervals, closure: 0, iterations: 0, work: noWork(), monodromy: new Float64Array(), states: 0 }), (p) => p.current(PLUG));
  return ok(Math.max(max, -min));
}

/**
 * The inrush of a design on the mains, run in time: filter, rectifier and reservoir at rest, the gates still, behind the reference impedance of
 * the mains. Leaves out that the inductor saturates.
 * @param found the design closed at a point
 * @returns problems as of running it
 */
export function inrushRun(d: Design, point: OperatingPoint, found: ClosedDesign): Result<InrushRun> {
  const ohms = d.brief.inrushResistance ?? 0;
  const own = plugged(d, point, found, ohms);
  if (!own.ok) return own;
  const bare = ohms > 0 ? plugged(d, point, found, 0) : undefined;
  return ok({ peak: own.value, ...(bare?.ok ? { bare: bare.value } : {}) });
}
