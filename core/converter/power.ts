import type { Circuit, Element } from '../circuit/elements';
import { integrals, meanProduct, type CycleIntegrals, type Measures, type Quantity } from '../orbit/measure';
import type { Roles } from './roles';
import type { Measurable } from './stresses';

const isLoad = (roles: Roles, e: Element): boolean => roles.outputs.some((o) => o.loads.includes(e.id));

/** W into the loads of the outputs. */
export const outputPower = (circuit: Circuit, roles: Roles, measure: (of: Measurable) => Measures, g: CycleIntegrals): number =>
  circuit.elements.reduce((sum, e) => {
    if (!('a' in e) || !isLoad(roles, e)) return sum;
    return sum + (e.kind === 'resistor' ? measure({ current: e.id }).rms ** 2 * e.resistance : meanProduct(g, (p) => p.voltage(e.a, e.b), (p) => p.current(e.id)));
  }, 0);

/**
 * W put in by the sources, taken by the load and burnt elsewhere, each by its own exact integral:
 * sources by v·i, resistances by i²R. They agree only on a cycle that is really settled.
 */
export function powerBalance(circuit: Circuit, roles: Roles, g: CycleIntegrals): { input: number; output: number; dissipated: number; residual: number } {
  let input = 0;
  let output = 0;
  let dissipated = 0;
  for (const e of circuit.elements) {
    const current: Quantity = (p) => p.current(e.id);
    if (e.kind === 'voltage-source') input -= Number(e.value) * integrals(g, current).mean;
    else if (e.kind === 'current-source') input -= Number(e.value) * integrals(g, (p) => p.voltage(e.a, e.b)).mean;
    else if (e.kind === 'resistor') {
      const watts = integrals(g, current).rms ** 2 * e.resistance;
      if (isLoad(roles, e)) output += watts;
      else dissipated += watts;
    } else if ('a' in e && isLoad(roles, e)) output += meanProduct(g, (p) => p.voltage(e.a, e.b), current);
    else if (e.kind === 'diode') dissipated += meanProduct(g, (p) => p.voltage(e.a, e.b), current);
    else if (e.kind === 'capacitor') dissipated += integrals(g, current).rms ** 2 * e.esr;
    else if (e.kind === 'switch') {
      // i²R with the R of each pattern: scale the row by √R before squaring
      const scaled: Quantity = (p) => {
        const root = Math.sqrt(p.on.has(e.id) ? e.onResistance : 1 / e.offConductance);
        return p.current(e.id).map((v) => v * root);
      };
      dissipated += integrals(g, scaled).rms ** 2;
    }
  }
  return { input, output, dissipated, residual: (input - output - dissipated) / input };
}
