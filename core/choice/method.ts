import { amplifierNamed, structureNamed } from '../control';
import { heldCommand } from '../control/held';
import type { Design } from '../design/schema';
import { topologyOf } from '../design/topologyOf';

/** Share of the switching frequency that a loop crosses at, and of the mains where its command is held over that, where nothing is known yet. */
const [FAST, SLOW] = [1 / 12, 1 / 5];

/** Hz that a design's loop crosses at by such a method, where it went by another kind of pace before; undefined where it may stay. */
export function paceFor({ control, brief }: Pick<Design, 'control' | 'brief'>, method: string): number | undefined {
  const [was, will] = [heldCommand(control), heldCommand({ method })].map((v) => v !== undefined);
  if (was === will || (will && brief.line.mains === undefined)) return undefined;
  return Number((will ? SLOW * brief.line.mains! : FAST * brief.frequency).toPrecision(2));
}

/**
 * What goes along with another way of control, by path: from a loop of the current to a command that is held over the mains, or back, the
 * crossover is another by orders, what is set of corners and of the inductance was for the other; what has no clock does not sample.
 */
export function methodChanges(d: Design, method: string): Record<string, string | number | null> {
  const pace = paceFor(d, method);
  const handles = amplifierNamed(d.control.amplifier)!.handles.map((h) => [`control.${h.key}`, null] as const);
  const inductances = (topologyOf(d)?.slots ?? []).flatMap((p) => (p.kind === 'inductor' || p.kind === 'transformer' ? [[`parts.${p.id}.inductance`, null] as const] : []));
  return {
    'control.method': method,
    ...(structureNamed(method)?.clocked === false && d.control.sampled !== 'none' ? { 'control.sampled': 'none' } : {}),
    ...(pace === undefined ? {} : { 'control.crossover': pace, ...Object.fromEntries(handles), ...(topologyOf(d)?.mains ? Object.fromEntries(inductances) : {}) }),
  };
}
