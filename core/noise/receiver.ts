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

/** dBµV that a table allows at a frequency: at a step the lower; Infinity outside. */
export function levelAt(table: LimitTable, frequency: number): number {
  let level = Infinity;
  for (let k = 1; k < table.length; k++) {
    const [[f0, a], [f1, b]] = [table[k - 1]!, table[k]!];
    if (frequency < f0 || frequency > f1) continue;
    level = Math.min(level, f0 === f1 ? Math.min(a, b) : a + ((b - a) * Math.log(frequency / f0)) / Math.log(f1 / f0));
  }
  return level;
}

/** Limits at the mains ports of multimedia equipment, CISPR 32 (2015), tables A.8 and A.9: for the quasi-peak detector, and for the average one. */
export const CISPR_32: Readonly<Record<'A' | 'B', { quasiPeak: LimitTable; average: LimitTable }>> = {
  A: { quasiPeak: [[150e3, 79], [500e3, 79], [500e3, 73], [30e6, 73]], average: [[150e3, 66], [500e3, 66], [500e3, 60], [30e6, 60]] },
  B: { quasiPeak: [[150e3, 66], [500e3, 56], [5e6, 56], [5e6, 60], [30e6, 60]], average: [[150e3, 56], [500e3, 46], [5e6, 46], [5e6, 50], [30e6, 50]] },
};

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
 * Ω of the line impedance network that noise flows into, as the receiver sees it: 50 Ω beside 50 µH in series with 5 Ω (size, by frequency).
 * @returns real and imaginary part
 */
export function networkImpedance(frequency: number): { re: number; im: number } {
  const [r, x] = [5, 2 * Math.PI * frequency * 50e-6];
  // 50 (r + jx) / (50 + r + jx)
  const [a, b, c, d] = [50 * r, 50 * x, 50 + r, x];
  const n = c * c + d * d;
  return { re: (a * c + b * d) / n, im: (b * c - a * d) / n };
}
