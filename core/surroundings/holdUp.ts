/** How long a reservoir feeds a load by itself. */
export interface HeldUp {
  /** F */
  capacitance: number;
  /** V where it begins, and that it may sink to */
  from: number;
  to: number;
  /** A at `at` V, and how the load takes them as the voltage sinks */
  load: number;
  at: number;
  kind: 'resistance' | 'constant-current' | 'constant-power';
}

/**
 * s in which the voltage of a reservoir sinks, its own resistance left out: C (V² − V₁²) / 2P at constant power, C (V − V₁) / I at
 * constant current, R C ln(V / V₁) into a resistance; nothing where it stands lower already.
 * Source: conservation of charge and energy; Mohan, Undeland, Robbins, "Power Electronics", ch. 10 (hold-up time).
 */
export function holdUp({ capacitance: C, from, to, load, at, kind }: HeldUp): number {
  if (from <= to) return 0;
  switch (kind) {
    case 'constant-power':
      return (C * (from ** 2 - to ** 2)) / (2 * load * at);
    case 'constant-current':
      return (C * (from - to)) / load;
    case 'resistance':
      return (at / load) * C * Math.log(from / to);
  }
}
