import { printQuantity as print } from '../quantity';
import type { Mechanism, SwitchState } from './types';

/** Currents that flow in the body diode beside an edge, A. */
const diodeCurrents = (s: SwitchState): number[] => s.commutations.filter((c) => c.carried < 0).map((c) => -c.carried);

/** The body diode carries the current while both switches of a pair are off. */
export const deadTime: Mechanism<'switch'> = {
  id: 'dead-time',
  title: 'dead time',
  kind: 'switch',
  power: (s) => diodeCurrents(s).reduce((sum, i) => sum + i * s.part.bodyDiodeDrop * s.drive.deadTime * s.frequency, 0),
  working: (s) => ({
    formula: 'P = Vf · I · t_dead · f at each edge where the body diode takes the current',
    numbers:
      diodeCurrents(s).map((i) => `${print(s.part.bodyDiodeDrop, 'V')} × ${print(i, 'A')} × ${print(s.drive.deadTime, 's')}`).join(';  ') ||
      'the body diode carries nothing here',
    source: 'edge currents of the settled cycle',
    leavesOut: 'change of the current within the dead time',
  }),
};
