import type { Design } from '../design/schema';
import { decibels, degrees, phase, size, type Complex } from '../linear/complex';
import { fail, ok, type Result } from '../problem';
import type { Injected } from '../response/inject';
import { injectedLoopGain, loopAt } from '../response/injectionPoint';
import type { OperatingPoint } from '../topology';
import { closedDesign } from './closedDesign';
import { placeIn } from './compensator';

/** A design's loop at frequencies of one's own: exactly, and by injection in time on the running converter. */

/** The closed design, where its loop lives within what is settled. */
function injectable(d: Design, point: OperatingPoint): ReturnType<typeof closedDesign> {
  const closed = closedDesign(d, point);
  return closed.ok && closed.value.bill.drive.held ? fail('range', 'control.method', 'its loop is slower than the mains, and is not seen at one angle of it', 'read it from the curves, which are a mean over the mains') : closed;
}

/** The loop gain at frequencies (Hz), exact. */
export function loopResponse(d: Design, point: OperatingPoint, frequencies: readonly number[]): Result<Complex[]> {
  const closed = injectable(d, point);
  return closed.ok ? ok(loopAt(closed.value.machine, closed.value.cycle, placeIn(closed.value))(frequencies)) : closed;
}

/** One frequency by injection in dB and degrees, with what is exact there, and how far apart they are. */
export type InjectedLoop = Injected & { loop: Complex; gain: number; phase: number; exact: { gain: number; phase: number }; off: { gain: number; phase: number } };

const read = (v: Complex): { gain: number; phase: number } => ({ gain: decibels(size(v)), phase: degrees(phase(v)) });

/** Share of what is fed back that is injected to begin with */
const SMALL = 1e-3;

/**
 * The loop gain by injection in time, each point with its quality, and what the exact response says at that frequency.
 * @param told after each trial how many are done; true stops, and what is done is handed back
 */
export function injectedLoop(d: Design, point: OperatingPoint, frequencies: readonly number[], told?: (done: number, of: number) => boolean | void): Result<InjectedLoop[]> {
  const closed = injectable(d, point);
  if (!closed.ok) return closed;
  const { circuit, machine, cycle } = closed.value;
  const place = placeIn(closed.value);
  const found = injectedLoopGain(circuit, place, frequencies, { amplitude: SMALL * (d.brief.line.mains === undefined ? d.brief.output.voltage : d.control.reference), near: cycle.state, ...(told ? { progress: told } : {}) });
  if (!found.ok) return found;
  const exact = loopAt(machine, cycle, place)(found.value.map((x) => x.frequency));
  return ok(found.value.map((x, k): InjectedLoop => {
    const [own, there] = [read(x.loop), read(exact[k]!)];
    const apart = own.phase - there.phase;
    return { ...x, ...own, exact: there, off: { gain: own.gain - there.gain, phase: apart - 360 * Math.round(apart / 360) } };
  }));
}
