import { printQuantity as print } from '../quantity';
import type { Mechanism } from './types';

/** What the body diode carries while its switch is off, where the circuit has one of its own. */
export const bodyDiode: Mechanism<'switch'> = {
  id: 'body-diode',
  title: 'body diode',
  kind: 'switch',
  applies: (s) => s.body !== undefined,
  power: (s) => s.part.bodyDiodeDrop * Math.max(0, s.body!.mean) + s.body!.rms ** 2 * s.resistance,
  working: (s) => ({
    formula: 'P = Vf · Imean + Irms² · R',
    numbers: `${print(s.part.bodyDiodeDrop, 'V')} × ${print(Math.max(0, s.body!.mean), 'A')} + ${print(s.body!.rms, 'A')}² × ${print(s.resistance, 'Ω')}`,
    source: 'mean and rms of the settled cycle, exact',
    leavesOut: 'its slope is taken as that of the channel',
  }),
};
