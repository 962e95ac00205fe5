import { mainsStage, withRectifier } from './mainsStage';
import { sepic } from './sepic';

/** Mains rectifier with SEPIC: draws through L1 all the time, and its output may lie below the crest of the line. A loop shapes the current, or its duty is held. */
export const mainsSepic = mainsStage({
  id: 'mains-sepic',
  title: 'Mains rectifier with SEPIC',
  inner: sepic,
  rectifier: 'D2',
  draws: 'L1',
  drawnBy: (parts) => parts.L1!.mean,
  drawing: withRectifier(sepic.drawing, 'D2', 'L1'),
});
