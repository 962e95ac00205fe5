/** What a reservoir draws when it is switched onto the crest of the mains empty: V, H and Ω in its way, F. */
export interface Inrush {
  volts: number;
  inductance: number;
  resistance: number;
  capacitance: number;
}

/**
 * A at the peak of that current: the answer of a series R-L-C to a step, whose gates are still. Without an inductance it is V/R.
 * Source: the damped second-order step; Mohan, Undeland, Robbins, "Power Electronics", ch. 5 (inrush at the crest). Leaves out: that the inductor
 * saturates, drops of diodes, that the mains moves meanwhile.
 */
export function inrushPeak({ volts, inductance: L, resistance: R, capacitance: C }: Inrush): number {
  if (!(L > 0)) return volts / R;
  const decay = R / (2 * L);
  const square = 1 / (L * C) - decay * decay;
  if (Math.abs(square) < 1e-9 * decay * decay) return volts / (L * decay * Math.E);
  if (square > 0) {
    const ringing = Math.sqrt(square);
    const at = Math.atan2(ringing, decay) / ringing;
    return (volts / (ringing * L)) * Math.exp(-decay * at) * Math.sin(ringing * at);
  }
  const fall = Math.sqrt(-square);
  const at = Math.atanh(fall / decay) / fall;
  return (volts / (fall * L)) * Math.exp(-decay * at) * Math.sinh(fall * at);
}
