import { flybackOne } from './flybackOne';
import { mainsStage, withRectifier } from './mainsStage';

/**
 * Mains rectifier with flyback: the current of the primary comes in pulses, whose mean follows the line in discontinuous conduction with
 * a duty that stands still over the mains, and nearly so in critical conduction. The output is parted from the mains and may lie below its crest.
 */
export const mainsFlyback = mainsStage({
  id: 'mains-flyback',
  title: 'Mains rectifier with flyback',
  inner: flybackOne,
  rectifier: 'D4',
  pulsed: true,
  // What burns in the clamp goes back to the line and out of it again: the mean of the switch is what is drawn.
  // Its clamp sags along the mains, and what ripples on it bends what it takes.
  estimates: ['D2', 'C3'],
  drawnBy: (parts) => parts.Q1!.mean,
  rests: 'T1',
  drawing: withRectifier(flybackOne.drawing, 'D4', 'Q1'),
});
