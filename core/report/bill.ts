import { csvFormatRows } from 'd3-dsv';
import { topologyOf } from '../design/topologyOf';
import type { Design } from '../design/schema';
import { sizeDesign } from '../evaluation/evaluate';
import type { CornerReport } from '../corners/corners';
import { calledPart } from '../parts/edited';
import type { Part } from '../parts/schema';
import { printQuantity as print, printTyped } from '../quantity';
import { copiesOf } from '../topology';

/** One line of the bill: a slot, what stands there, and how hard it works at its worst corner. */
export interface BillLine {
  slot: string;
  title: string;
  part: string;
  value: string;
  /** So many in all */
  count: number;
  /** The largest stress of its ratings, over the corners */
  stress?: { title: string; value: string; rating: string; share: number; holds: boolean };
}

/** Parts of a design in the order of its slots. */
export function billLines(d: Design, shelf: readonly Part[], corners?: CornerReport): BillLine[] {
  const { values } = sizeDesign(d);
  return topologyOf(d)!.slots.filter((s) => !s.core).map((slot) => {
    const part = d.parts[slot.id]!;
    const sized = values[slot.id];
    const each = part.kind === 'capacitor' ? (sized?.count ?? 1) * part.series : 'count' in part ? (part.count ?? 1) : 1;
    const own = (corners?.stresses ?? []).filter((s) => s.slot === slot.id).toSorted((a, b) => b.value / b.rating - a.value / a.rating)[0];
    return {
      slot: slot.id,
      title: slot.title,
      part: calledPart(part, shelf),
      value: valueOf(d, slot.id),
      count: copiesOf(slot) * each,
      ...(own ? { stress: { title: own.title, value: print(own.value, own.unit), rating: print(own.rating, own.unit), share: own.value / own.rating, holds: own.value / own.rating <= d.requirements.ratings.limit } } : {}),
    };
  });
}

/** The value of what stands in a slot, as a bill says it. */
function valueOf(d: Design, slot: string): string {
  const part = d.parts[slot]!;
  const { values } = sizeDesign(d);
  switch (part.kind) {
    case 'switch':
      return `${print(part.blockingVoltage, 'V', 3)}, ${print(part.onResistance, 'Ω', 3)}`;
    case 'diode':
      return `${print(part.blockingVoltage, 'V', 3)}, ${print(part.drop, 'V', 3)}`;
    case 'capacitor':
      return `${printTyped(part.capacitance, 'F', 3)}, ${print(part.ratedVoltage, 'V', 3)}`;
    case 'inductor':
      return `${printTyped(values[slot]!.taken, 'H', 3)}, ${part.turns} turns`;
    case 'transformer':
      return Object.values(values).flatMap((v) => (v.slot === slot && v.unit === '' ? [v.taken] : [])).join(' : ');
  }
}

/** The bill as CSV (RFC 4180): slot, what it is, part, value, number, stress and its rating as shares. */
export const billCsv = (lines: readonly BillLine[]): string =>
  `${csvFormatRows([['slot', 'what', 'part', 'value', 'number', 'stress', 'worst', 'rating', 'share'], ...lines.map((l) => [l.slot, l.title, l.part, l.value, String(l.count), l.stress?.title ?? '', l.stress?.value ?? '', l.stress?.rating ?? '', l.stress ? l.stress.share.toPrecision(4) : ''])])}\n`;
