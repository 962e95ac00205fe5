/**
 * Conducted noise as a receiver reads it: lines of a spectrum in dBµV, gathered in its bandwidth, against limits given as tables.
 *
 * Sources: CISPR 16-1-1 (receiver: 9 kHz from 150 kHz to 30 MHz), CISPR 16-1-2 (line impedance network: 50 µH and 5 Ω beside 50 Ω).
 */

/** Hz between which conducted noise is read, and a receiver's bandwidth there */
export const [LOWEST, HIGHEST, BANDWIDTH] = [150e3, 30e6, 9e3];

/** dBµV of a voltage (V rms). */
export const dBuV = (volts: number): number => 20 * Math.log10(volts / 1e-6);

/** A line of a spectrum: Hz, V rms. */
export interface SpectralLine {
  frequency: number;
  value: number;
}

/** A reading: Hz, and dBµV with the peak detector (lines within the bandwidth added as if in phase) and with the average one (the largest of them). */
export interface Reading {
  frequency: number;
  peak: number;
  average: number;
}

/**
 * What a receiver reads of lines, at each of them: all that lies within half its bandwidth to either side.
 * @param lines rising in frequency
 */
export function readings(lines: readonly SpectralLine[], bandwidth = BANDWIDTH): Reading[] {
  const out: Reading[] = [];
  let [from, to] = [0, 0];
  for (const { frequency } of lines) {
    while (from < lines.length && lines[from]!.frequency < frequency - bandwidth / 2) from++;
    while (to < lines.length && lines[to]!.frequency <= frequency + bandwidth / 2) to++;
    const within = lines.slice(from, to).map((l) => l.value);
    out.push({ frequency, peak: dBuV(within.reduce((a, b) => a + b, 0)), average: dBuV(Math.max(...within)) });
  }
  return out;
}

/** A limit: rows of Hz and dBµV, straight in the logarithm of the frequency between; two of one frequency are a step. */
export type LimitTable = readonly (readonly [frequency: number, level: number])[];

/** dBµV that a table allows at a frequency: at a step the lower; Infinity outside, and between bands that end there. */
export function levelAt(table: LimitTable, frequency: number): number {
  let level = Infinity;
  for (let k = 1; k < table.length; k++) {
    const [[f0, a], [f1, b]] = [table[k - 1]!, table[k]!];
    if (frequency < f0 || frequency > f1 || !Number.isFinite(a) || !Number.isFinite(b)) continue;
    level = Math.min(level, f0 === f1 ? Math.min(a, b) : a + ((b - a) * Math.log(frequency / f0)) / Math.log(f1 / f0));
  }
  return level;
}

/** Limits at the mains ports of multimedia equipment, CISPR 32 (2015), tables A.8 and A.9: for the quasi-peak detector, and for the average one. */
export const CISPR_32: Readonly<Record<'A' | 'B', { quasiPeak: LimitTable; average: LimitTable }>> = {
  A: { quasiPeak: [[150e3, 79], [500e3, 79], [500e3, 73], [30e6, 73]], average: [[150e3, 66], [500e3, 66], [500e3, 60], [30e6, 60]] },
  B: { quasiPeak: [[150e3, 66], [500e3, 56], [5e6, 56], [5e6, 60], [30e6, 60]], average: [[150e3, 56], [500e3, 46], [5e6, 46], [5e6, 50], [30e6, 50]] },
};

/** A band of a table, and what is not limited up to the next. */
const bands = (list: readonly (readonly [from: number, to: number, level: number])[]): LimitTable => list.flatMap(([from, to, level], k) => [...(k > 0 ? ([[from, Infinity]] as const) : []), [from, level] as const, [to, level] as const, ...(k < list.length - 1 ? ([[to, Infinity]] as const) : [])]);

/** Hz of the broadcast bands below 30 MHz, and dBµV that class 1 allows there with the peak detector; each further class takes a step off. */
const BROADCAST = [[150e3, 300e3, 110, 10], [530e3, 1.8e6, 86, 8], [5.9e6, 6.2e6, 77, 6], [26e6, 28e6, 68, 6]] as const;

/** Limits at the supply of what is on board of vehicles, voltage method, CISPR 25 (2016), by class 1 to 5: with the peak detector, and 20 dB below with the average one. */
export const CISPR_25: Readonly<Record<string, { quasiPeak: LimitTable; average: LimitTable }>> = Object.fromEntries(
  [1, 2, 3, 4, 5].map((k) => {
    const at = (less: number): LimitTable => bands(BROADCAST.map(([from, to, level, step]) => [from, to, level - (k - 1) * step - less]));
    return [String(k), { quasiPeak: at(0), average: at(20) }];
  }),
);

/** A standard to be held against: its limits, and µH of the network that it is measured on. */
export interface NoiseStandard {
  id: string;
  title: string;
  quasiPeak: LimitTable;
  average: LimitTable;
  /** H */
  network: number;
}

export const STANDARDS: readonly NoiseStandard[] = [
  ...(['B', 'A'] as const).map((c) => ({ id: `cispr-32-${c}`, title: `CISPR 32 class ${c}`, ...CISPR_32[c], network: 50e-6 })),
  ...Object.entries(CISPR_25).map(([c, limits]) => ({ id: `cispr-25-${c}`, title: `CISPR 25 class ${c}`, ...limits, network: 5e-6 })),
];

/** What is wrong with a table that is typed: nothing, out of order, no numbers; undefined where it serves. */
export function tableProblem(table: LimitTable): string | undefined {
  if (table.length < 2) return 'it wants two rows of frequency and level at least';
  if (table.some(([f, v]) => !(f > 0) || !Number.isFinite(v))) return 'its frequencies are above zero, and its levels numbers';
  const back = table.findIndex(([f], k) => k > 0 && f < table[k - 1]![0]);
  return back > 0 ? `row ${back + 1} goes back in frequency` : undefined;
}

/** Where a reading is nearest to its limit, or farthest beyond it: dB of room. */
export function closest(read: readonly Reading[], table: LimitTable, detector: 'peak' | 'average'): { frequency: number; level: number; limit: number; room: number } | undefined {
  return read.reduce<ReturnType<typeof closest>>((best, r) => {
    const limit = levelAt(table, r.frequency);
    if (!Number.isFinite(limit)) return best;
    const room = limit - r[detector];
    return best && best.room <= room ? best : { frequency: r.frequency, level: r[detector], limit, room };
  }, undefined);
}

/**
 * Ω of the line impedance network that noise flows into, as the receiver sees it: 50 Ω beside an inductance, of 50 µH in series with 5 Ω
 * (CISPR 16-1-2), or of 5 µH alone (on board).
 * @param inductance H @returns real and imaginary part
 */
export function networkImpedance(frequency: number, inductance = 50e-6): { re: number; im: number } {
  const [r, x] = [inductance >= 50e-6 ? 5 : 0, 2 * Math.PI * frequency * inductance];
  // 50 (r + jx) / (50 + r + jx)
  const [a, b, c, d] = [50 * r, 50 * x, 50 + r, x];
  const n = c * c + d * d;
  return { re: (a * c + b * d) / n, im: (b * c - a * d) / n };
}
