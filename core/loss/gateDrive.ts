import { printQuantity as print } from '../quantity';
import type { Mechanism } from './types';

/** Charging and discharging the gate, once a period. */
export const gateDrive: Mechanism<'switch'> = {
  id: 'gate',
  title: 'gate drive',
  kind: 'switch',
  power: (s) => s.part.gateCharge * s.part.count * s.drive.voltage * s.frequency,
  working: (s) => ({
    formula: 'P = Qg · Vdrive · f',
    numbers: `${print(s.part.gateCharge * s.part.count, 'C')} × ${print(s.drive.voltage, 'V')} × ${print(s.frequency, 'Hz')}`,
    source: 'energy taken from the drive supply each period',
    leavesOut: 'is lost mostly in the driver and its resistor; counted at the switch, on the safe side',
  }),
};
