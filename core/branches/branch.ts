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

/** The branches that a design can have, each with the slots of its capacitor, inductor and diode, as far as its kind fills them. */
const SLOTS: Readonly<Record<string, Record<BranchSlot, string>>> = {
  B1: { C: 'C11', L: 'L11', D: 'D11' },
  B2: { C: 'C12', L: 'L12', D: 'D12' },
  B3: { C: 'C13', L: 'L13', D: 'D13' },
  B4: { C: 'C14', L: 'L14', D: 'D14' },
};
export const BRANCH_IDS = Object.keys(SLOTS) as [string, ...string[]];

/** Slots that a branch may add. @param id one of BRANCH_IDS */
export const slotsOf = (id: string): Record<BranchSlot, string> => SLOTS[id]!;
