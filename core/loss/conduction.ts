import { printQuantity as print } from '../quantity';
import type { Mechanism } from './types';

const formula = 'P = Irms² · R';

/** Channel conduction: exact rms of the cycle, resistance at the junction's temperature. */
export const conduction: Mechanism<'switch'> = {
  id: 'conduction',
  title: 'conduction',
  kind: 'switch',
  power: (s) => s.rms ** 2 * s.resistance,
  working: (s) => ({
    formula: `${formula},  R = R₂₅ (1 + α (T − 25 °C))`,
    numbers: `${print(s.rms, 'A', 4)}² × ${print(s.resistance, 'Ω')}`,
    source: 'rms of the settled cycle, exact',
    leavesOut: 'dead time is counted as channel conduction here, and its diode drop beside it',
  }),
};

/** A diode that conducts: its drop takes the mean, its slope the rms. */
export const forward: Mechanism<'diode'> = {
  id: 'conduction',
  title: 'conduction',
  kind: 'diode',
  power: (s) => s.mean * s.part.drop + s.rms ** 2 * s.resistance,
  working: (s) => ({
    formula: 'P = Vf · Imean + R · Irms²',
    numbers: `${print(s.part.drop, 'V')} × ${print(s.mean, 'A', 4)} + ${print(s.resistance, 'Ω')} × ${print(s.rms, 'A', 4)}²`,
    source: 'mean and rms of the settled cycle, exact',
    leavesOut: 'fall of the drop with temperature; leakage; what recovery burns in the diode itself',
  }),
};

/** Copper at dc resistance. */
export const copper: Mechanism<'inductor'> = {
  id: 'copper',
  title: 'copper',
  kind: 'inductor',
  power: (s) => s.rms ** 2 * s.resistance,
  working: (s) => ({
    formula: `${formula},  R = R₂₅ (1 + 0.00385 (T − 25 °C))`,
    numbers: `${print(s.rms, 'A', 4)}² × ${print(s.resistance, 'Ω')}`,
    source: 'rms of the settled cycle, exact',
    leavesOut: s.spectrum ? 'what skin and proximity effect add: it stands by itself' : 'skin and proximity effect of the ripple: how it is wound is not known',
  }),
};

/** Series resistance of capacitors. */
export const seriesResistance: Mechanism<'capacitor'> = {
  id: 'resistance',
  title: 'series resistance',
  kind: 'capacitor',
  power: (s) => s.rms ** 2 * s.resistance,
  working: (s) => ({
    formula,
    numbers: `${print(s.rms, 'A', 4)}² × ${print(s.resistance, 'Ω')}`,
    source: 'rms of the settled cycle, exact',
    leavesOut: 'rise of the resistance with cold and fall with frequency',
  }),
};

/** Copper of a transformer's windings at dc resistance. */
export const windings: Mechanism<'transformer'> = {
  id: 'copper',
  title: 'copper',
  kind: 'transformer',
  power: (s) => s.windings.reduce((sum, w) => sum + w.rms ** 2 * w.resistance, 0),
  working: (s) => ({
    formula: 'P = Σ Irms² · R,  R = R₂₅ (1 + 0.00385 (T − 25 °C)) of each winding',
    numbers: s.windings.map((w) => `${w.title}: ${print(w.rms, 'A', 4)}² × ${print(w.resistance, 'Ω')}`).join(';  '),
    source: 'rms of the settled cycle, exact',
    leavesOut: s.wound ? 'what skin and proximity effect add: it stands by itself' : 'skin and proximity effect: how it is wound is not known',
  }),
};

/** A resistor beside a capacitor, as a clamp has it. */
export const parallelResistor: Mechanism<'capacitor'> = {
  id: 'parallel-resistor',
  title: 'resistor beside it',
  kind: 'capacitor',
  applies: (s) => s.beside !== undefined,
  power: (s) => s.beside!.volts ** 2 / s.beside!.resistance,
  working: (s) => ({
    formula: 'P = V² / R',
    numbers: `${print(s.beside!.volts, 'V', 4)}² / ${print(s.beside!.resistance, 'Ω')}`,
    source: 'rms of the settled cycle, exact',
    leavesOut: '',
  }),
};

/** Resistors that keep the voltages of capacitors in series alike. */
export const balancing: Mechanism<'capacitor'> = {
  id: 'balancing',
  title: 'balancing resistors',
  kind: 'capacitor',
  applies: (s) => s.balancing !== undefined,
  power: (s) => s.balancing!.volts ** 2 / s.balancing!.resistance,
  working: (s) => ({
    formula: 'P = V² / R of each string',
    numbers: `${print(s.balancing!.volts, 'V', 4)}² / ${print(s.balancing!.resistance, 'Ω')}, all strings together`,
    source: 'three times the leakage that IEC 60384-4 allows, where the part states no resistor',
    leavesOut: 'ripple of the voltage',
  }),
};
