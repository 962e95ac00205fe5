import type { Fragment } from '../converter/fragment';
import type { Brief } from '../topology/brief';

/** What an output is asked for while the first one carries `load` amps: further loads go with it, from their smallest to their largest. */
export function loadsAt(brief: Brief, load: number): { volts: number; amps: number }[] {
  const along = Math.min(1, Math.max(0, (load - brief.load.min) / (brief.load.max - brief.load.min)));
  return [{ volts: brief.output.voltage, amps: load }, ...(brief.further ?? []).map((o) => ({ volts: o.voltage, amps: o.load.min + (o.load.max - o.load.min) * along }))];
}

/** A resistance across each output that takes the current wanted at its voltage, and beside the first a source that steps it. */
export function resistiveLoads(f: Fragment, wanted: readonly { volts: number; amps: number }[]): void {
  f.outputs.forEach((o, k) => {
    const [a, b] = o.nodes;
    const id = k === 0 ? 'load' : `load ${k + 1}`;
    f.resistor(id, a, b, wanted[k]!.volts / wanted[k]!.amps);
    o.loads.push(id);
    if (k > 0) return;
    f.put({ kind: 'current-source', id: 'load step', a, b, value: 0 });
    o.step = 'load step';
  });
}
