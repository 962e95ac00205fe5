import { handOverDrawing } from './handOver';
import { twoInductors } from './twoInductors';

/** SEPIC: up and down with the same sign; L2 from the return to the second node, D1 from there to the output. */
export const sepic = twoInductors({
  id: 'sepic',
  title: 'SEPIC',
  feeds: 'off',
  across: (line) => line,
  wiring: { D1: ['x', 'out'], L2: ['0', 'x'], output: ['out', '0'] },
  purposes: { D1: 'hands both inductor currents to the output', L2: 'carries the load current on the mean', C2: 'feeds the load while Q1 conducts' },
  drawing: handOverDrawing({ id: 'L2', symbol: 'inductor', turn: 0 }, { id: 'D1', symbol: 'diode', turn: 3 }),
});
