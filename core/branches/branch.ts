import { z } from 'zod';

/** A table of Hz and Ω, or of Hz and dB, rising in Hz. */
const Table = z.array(z.tuple([z.number().positive(), z.number()])).min(1).max(40);

/** A ferrite bead: Ω at dc, and its impedance over the frequency. */
export const Bead = z.strictObject({ resistance: z.number().positive(), impedance: Table });
export type Bead = z.infer<typeof Bead>;

/** A linear regulator: V that it makes and that it wants above, A that it takes for itself, dB that it rejects of what lies above it, V rms of noise of its own, K/W from junction to air, °C. */
export const Regulator = z.strictObject({
  voltage: z.number().positive(),
  dropout: z.number().nonnegative(),
  groundCurrent: z.number().positive(),
  rejection: Table,
  noise: z.number().nonnegative(),
  thermalResistance: z.number().positive(),
  maxJunction: z.number().max(250),
});
export type Regulator = z.infer<typeof Regulator>;

/** What is hung on the output or across a part, beside the topology's own parts; its parts stand among the others. */
export const Branch = z.strictObject({
  kind: z.enum(['damping', 'filter', 'line-filter', 'bead', 'regulator', 'snubber', 'clamp']),
  /** Slot of the switch or diode that a snubber or clamp hangs across; the others hang on the output */
  at: z.string().optional(),
  /** H of the loop that hands the current over there; 20 nH when left out */
  stray: z.number().positive().optional(),
  /** F that ring with it, measured; that of the part itself when left out */
  parasitic: z.number().positive().nullable().optional(),
  /** Ω in series with the capacitor (of a clamp: beside it; of a filter: what damps it); null: the best. An undamped filter has none. */
  resistance: z.number().positive().nullable(),
  /** How a filter is damped: by a capacitor with a resistor beside its own, or by a resistor in series with that; not at all when left out */
  damped: z.enum(['parallel', 'series']).optional(),
  /** The output is fed back before a second stage, not behind it */
  feedback: z.literal('before').optional(),
  /** Capacitance that damps, over that which it damps; 4 when left out */
  ratio: z.number().min(0.1).max(100).nullable().optional(),
  /** H of a line filter's choke that acts on what both lines carry alike; F from each line to earth (Y capacitors) */
  commonMode: z.number().positive().nullable().optional(),
  toEarth: z.number().positive().nullable().optional(),
  bead: Bead.optional(),
  regulator: Regulator.optional(),
  /** dB that a line filter takes off the ripple at the switching frequency; 40 when left out */
  attenuation: z.number().min(3).max(160).nullable().optional(),
});
export type Branch = z.infer<typeof Branch>;

/** A capacitor, an inductor, a diode of a branch, and the capacitor that damps it. */
export type BranchSlot = 'C' | 'L' | 'D' | 'E';

/** The branches that a design can have, each with the slots of its parts, as far as its kind fills them. */
const SLOTS: Readonly<Record<string, Record<BranchSlot, string>>> = {
  B1: { C: 'C11', L: 'L11', D: 'D11', E: 'C21' },
  B2: { C: 'C12', L: 'L12', D: 'D12', E: 'C22' },
  B3: { C: 'C13', L: 'L13', D: 'D13', E: 'C23' },
  B4: { C: 'C14', L: 'L14', D: 'D14', E: 'C24' },
};
export const BRANCH_IDS = Object.keys(SLOTS) as [string, ...string[]];

/** Slots that a branch may add. @param id one of BRANCH_IDS */
export const slotsOf = (id: string): Record<BranchSlot, string> => SLOTS[id]!;
