import { z } from 'zod';

/** What is hung on the output or across a part, beside the topology's own parts; its parts stand among the others. */
export const Branch = z.strictObject({
  kind: z.enum(['damping', 'filter', 'snubber', 'clamp']),
  /** Slot of the switch or diode that a snubber or clamp hangs across; the others hang on the output */
  at: z.string().optional(),
  /** H of the loop that hands the current over there; 20 nH when left out */
  stray: z.number().positive().optional(),
  /** Ω in series with the capacitor (of a clamp: beside it); null: the best. A filter has none. */
  resistance: z.number().positive().nullable(),
});
export type Branch = z.infer<typeof Branch>;

/** A capacitor, an inductor, a diode of a branch. */
export type BranchSlot = 'C' | 'L' | 'D';

/** Slots that a branch may add, by its id: "B1" has a capacitor in C11, an inductor in L11, a diode in D11, as far as its kind fills them. */
export const slotsOf = (id: string): Record<BranchSlot, string> => ({ C: `C1${id.slice(1)}`, L: `L1${id.slice(1)}`, D: `D1${id.slice(1)}` });
