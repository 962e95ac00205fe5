import type { Element } from '../circuit/elements';
import type { CapacitorPart } from '../parts/schema';
import type { OperatingPoint } from './brief';
import { esrOf } from './common';
import type { Sizing, Spec } from './types';

/** Groups of elements that the circuits of most topologies have. */

/** An inductor with the resistance of its winding behind it; node "L1 wound" stands between. */
export const coil = (id: string, a: string, b: string, inductance: number, resistance: number): Element[] => [
  { kind: 'inductor', id, a, b: `${id} wound`, inductance },
  { kind: 'resistor', id: `${id} winding`, a: `${id} wound`, b, resistance },
];

/** The output capacitor, the load and the source that steps it, and the source that sets the duty. */
export function loadedOutput(spec: Spec, { values }: Pick<Sizing, 'values'>, point: OperatingPoint, [a, b]: readonly [string, string]): Element[] {
  const capacitance = values.C2!.taken;
  return [
    { kind: 'capacitor', id: 'C2', a, b, capacitance, esr: esrOf(spec.parts.C2 as CapacitorPart, capacitance) },
    { kind: 'resistor', id: 'load', a, b, resistance: spec.brief.output.voltage / point.load },
    { kind: 'current-source', id: 'load step', a, b, value: 0 },
    { kind: 'voltage-source', id: 'duty', a: 'duty', b: '0', value: 0.5 },
  ];
}
