import { CLOCK, EARLIER, type Trace } from '../../core/orbit/march';
import { table } from '../table';
import { csvLine, jsonText, say, type Options } from './say';

/** An event of a run: when, whose, why, and which switches and diodes it turned on and off. */
interface SaidEvent {
  /** s */
  time: number;
  of: string;
  cause: string;
  on: string[];
  off: string[];
}

/** The events of a trace with their causes in words. */
export function eventsOf(trace: Trace): SaidEvent[] {
  // What leakages alone hold apart comes together as a pattern begins: that is no event of its own.
  return trace.all.flatMap((j, k) => (j.owner === '' && j.before === j.after && j.resets.length > 0 ? [] : [{
    time: j.t,
    of: j.owner || 'gate edge under way',
    cause: j.cause === CLOCK ? 'at its clock' : j.cause === EARLIER ? 'follows what came before the run' : j.cause === k ? 'its comparison crossed zero' : `follows the event at ${trace.all[j.cause]!.t.toPrecision(9)} s`,
    on: [...j.after.on].filter((id) => !j.before.on.has(id)),
    off: [...j.before.on].filter((id) => !j.after.on.has(id)),
  }]));
}

export function sayEvents(events: readonly SaidEvent[], o: Options): void {
  if (o.json) return say(jsonText({ events }));
  const rows = events.map((e) => [e.time.toPrecision(12), e.of, e.cause, e.on.join(' '), e.off.join(' ')]);
  const heading = ['time (s)', 'of', 'cause', 'turns on', 'turns off'];
  if (o.csv) return [heading, ...rows].forEach((r) => say(csvLine(r)));
  say(table(heading, rows));
}
