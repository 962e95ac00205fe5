import { handOverDrawing } from './handOver';
import { twoInductors } from './twoInductors';

/**
 * SEPIC with both windings on one core: they stand on the same voltage, so half the inductance does; k is left below
 * one on purpose, since the ripple of C3 stands across what the two do not share.
 */
export const sepicCoupled = twoInductors({
  id: 'sepic-coupled',
  title: 'SEPIC, coupled',
  feeds: 'off',
  coupling: 0.9,
  across: (line) => line,
  wiring: { D1: ['x', 'out'], L2: ['0', 'x'], output: ['out', '0'] },
  purposes: { D1: 'hands both winding currents to the output', L2: 'carries the load current on the mean, on the core of L1', C2: 'feeds the load while Q1 conducts' },
  drawing: handOverDrawing({ id: 'L2', symbol: 'inductor', turn: 0 }, { id: 'D1', symbol: 'diode', turn: 3 }),
});
