/** The node that commands the modulator, and the source that stands there while the loops are open: what regulation moves. */
export const COMMAND = 'duty';
/** The node of a voltage that no ramp reaches, for legs that are held */
export const HIGH = 'high';
