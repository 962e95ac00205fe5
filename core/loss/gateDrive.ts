import { printQuantity as print } from '../quantity';
import { gateOf } from './overlap';
import type { Mechanism, SwitchState } from './types';

/** Share of the drive voltage that a capacitor which feeds a floating driver may lose to one gate */
const DROOP = 0.05;

/** Where the energy of a gate goes, W each: in the driver itself, in the resistors before the gate while it turns on, and while it turns off; and F of a bootstrap capacitor. */
export interface GateSplit {
  driver: number;
  on: number;
  off: number;
  bootstrap: number;
}

/**
 * Half of what the supply gives is burnt while a gate is charged and half while it is discharged, by what stands in the way: of the
 * resistance the driver's share in the driver.
 * Source: Balogh, "Fundamentals of MOSFET and IGBT Gate Driver Circuits" (application text), sections on driver dissipation and bootstrap.
 */
export function gateSplit(s: Pick<SwitchState, 'part' | 'drive' | 'frequency'>): GateSplit {
  const charge = s.part.gateCharge * s.part.count;
  const half = (charge * s.drive.voltage * s.frequency) / 2;
  const own = s.drive.driverResistance ?? 0;
  const [on, off] = (['on', 'off'] as const).map((edge) => Math.min(1, own / gateOf(s.drive, edge)));
  return { driver: half * (on! + off!), on: half * (1 - on!), off: half * (1 - off!), bootstrap: charge / (DROOP * s.drive.voltage) };
}

/** Charging and discharging the gate, once a period. */
export const gateDrive: Mechanism<'switch'> = {
  id: 'gate',
  title: 'gate drive',
  kind: 'switch',
  power: (s) => s.part.gateCharge * s.part.count * s.drive.voltage * s.frequency,
  working: (s) => {
    const { driver, on, off, bootstrap } = gateSplit(s);
    const where = s.drive.driverResistance === undefined ? '' : `; ${print(driver, 'W')} of it in the driver, ${print(on, 'W')} and ${print(off, 'W')} in the resistors turning on and off`;
    return {
      formula: 'P = Qg · Vdrive · f,  Rdriver / Rgate of each half in the driver;  Cbootstrap ≥ Qg / (5 % Vdrive)',
      numbers: `${print(s.part.gateCharge * s.part.count, 'C')} × ${print(s.drive.voltage, 'V')} × ${print(s.frequency, 'Hz')}${where};  a bootstrap capacitor of ${print(bootstrap, 'F', 2)} or more`,
      source: 'energy taken from the drive supply each period',
      leavesOut: 'counted at the switch whole, on the safe side; what the driver takes besides, and the charge that leaks from a bootstrap capacitor',
    };
  },
};
