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
    leavesOut: 'skin and proximity effect of the ripple',
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
