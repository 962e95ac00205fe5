import type { Fragment } from '../../converter/fragment';
import type { Problem } from '../../problem';
import type { Brief } from '../brief';
import { constantCurrent } from './constantCurrent';
import { constantPower } from './constantPower';
import { diodeString } from './diodeString';
import { resistance } from './resistance';
import type { Load, Wanted } from './types';

export type { Load, Wanted } from './types';

/** What may hang on the regulated output; the first where the brief says nothing. */
export const LOADS: readonly Load[] = [resistance, constantCurrent, constantPower, diodeString];

/** The load that a brief asks for. */
export const loadOf = ({ loadKind }: Pick<Brief, 'loadKind'>): Load => LOADS.find((l) => l.id === loadKind) ?? LOADS[0]!;

/** What there is to be said of the load in words: its title, where it is no plain resistance. */
export const loadInWords = (brief: Brief): string => (brief.loadInductance !== undefined ? 'inductive' : brief.loadKind === undefined || brief.loadKind === LOADS[0]!.id ? '' : loadOf(brief).title);

/** Why the load can not be what the brief says; undefined where it can. */
export const loadRefusal = (brief: Brief): Problem | undefined => loadOf(brief).refuses?.(brief);

/** What an output is asked for while the first one carries `load` amps: further loads go with it, from their smallest to their largest. */
export function loadsAt(brief: Brief, load: number): Wanted[] {
  const along = brief.load.max > brief.load.min ? Math.min(1, Math.max(0, (load - brief.load.min) / (brief.load.max - brief.load.min))) : 1;
  return [{ volts: brief.output.voltage, amps: load }, ...(brief.further ?? []).map((o) => ({ volts: o.voltage, amps: o.load.min + (o.load.max - o.load.min) * along }))];
}

/** The load of the brief (`load` A at the nominal voltage) across the first output, with a source beside it that steps it; further outputs have resistances. */
export function putLoads(f: Fragment, brief: Brief, load: number): void {
  const wanted = loadsAt(brief, load);
  f.outputs.forEach((o, k) => {
    const [a, b] = o.nodes;
    const id = k === 0 ? 'load' : `load ${k + 1}`;
    o.loads.push(id);
    if (k > 0) return f.resistor(id, a, b, wanted[k]!.volts / wanted[k]!.amps);
    loadOf(brief).put(f, id, o.nodes, wanted[0]!, brief);
    f.put({ kind: 'current-source', id: 'load step', a, b, value: 0 });
    o.step = 'load step';
  });
}
