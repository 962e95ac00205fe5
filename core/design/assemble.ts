import type { Circuit, Element, Modulator } from '../circuit/elements';
import { CIRCUIT_KIND } from '../circuit/elements';
import { fragment, type Timing } from '../converter/fragment';
import type { Roles } from '../converter/roles';
import { fail, ok, type Result } from '../problem';
import { LINE, stiffLine } from '../surroundings/line';
import { loadsAt, resistiveLoads } from '../surroundings/loads';
import type { OperatingPoint, Sizing, Spec, Topology } from '../topology';

/** The source that sets the command while the loops are open: what regulation moves. */
export const COMMAND = 'duty';

/** A power stage with line and load, its loops open: the command is a source. */
export interface OpenConverter {
  circuit: Circuit;
  roles: Roles;
}

/** Gates by comparing the duty with a ramp. */
const byDuty =
  (period: number) =>
  (t: Timing): Modulator => {
    const common = { deadTime: 0, period, low: 0, high: 1, delay: 0 };
    const pwm = { ...common, kind: 'pwm', carrier: 'trailing', sampling: 'natural' } as const;
    switch (t.kind) {
      case 'duty':
        return { ...pwm, id: t.id, gate: t.gate, complement: t.complement, phase: t.phase, control: [COMMAND, '0'] };
      case 'held':
        return { ...pwm, id: t.id, gate: t.gate, complement: t.complement, phase: 0, control: ['high', '0'] };
      case 'phase-shift':
        return { ...common, kind: 'phase-shift', id: t.id, gates: [...t.gates], phase: 0, control: [COMMAND, '0'] };
    }
  };

/**
 * Power stage, line and load at a point as one circuit, with what is what in it.
 * @param resistance Ω of each part at its temperature
 * @returns the circuit; problem "value" where a part's value is none that can be computed with
 */
export function assemble(t: Topology, spec: Spec, sizing: Sizing, point: OperatingPoint, resistance: (slot: string) => number): Result<OpenConverter> {
  const f = fragment({ parts: spec.parts, values: sizing.values, resistance });
  stiffLine(f, t.mains ? t.mains.behind(spec, point, resistance) : point.line);
  t.stage(f, spec, sizing, point);
  f.whole();
  resistiveLoads(f, loadsAt(spec.brief, point.load));
  f.put({ kind: 'voltage-source', id: COMMAND, a: COMMAND, b: '0', value: 0.5 });
  if (f.timings.some((x) => x.kind === 'held')) f.put({ kind: 'voltage-source', id: 'high', a: 'high', b: '0', value: 2 });
  const drive = t.drive?.(spec, sizing);
  if (drive) f.put(...drive.elements);
  const modulators = f.timings.map(drive?.modulator ?? byDuty(1 / spec.brief.frequency));
  const unsound = f.elements.find((e) => unsoundValue(e) !== undefined);
  if (unsound) return fail('value', unsound.id, `no circuit can be made of these parts: the ${unsoundValue(unsound)} of ${unsound.id} is none that can be computed with`, 'look for a part whose values are nothing, or far from those of the others');
  const roles = f.roles(LINE);
  for (const p of t.places) if (p.core) roles.parts[p.id]!.core = p.core;
  return ok({ circuit: { kind: CIRCUIT_KIND, version: 1, name: '', elements: f.elements, modulators }, roles });
}

const POSITIVE = new Set(['resistance', 'inductance', 'capacitance', 'onResistance']);
const NOT_NEGATIVE = new Set(['esr', 'drop', 'offConductance']);

/** A value that no circuit can have: no number, or nothing where there has to be something. */
function unsoundValue(e: Element): string | undefined {
  for (const [key, value] of Object.entries(e)) {
    if (typeof value !== 'number') continue;
    if (!Number.isFinite(value) || (POSITIVE.has(key) && !(value > 0)) || (NOT_NEGATIVE.has(key) && !(value >= 0))) return key;
  }
  return e.kind === 'transformer' && e.windings.some((w) => !(w.turns > 0 && Number.isFinite(w.turns))) ? 'turns' : undefined;
}
