import FFT from 'fft.js';
import type { Recording } from './recording';

/** What a window of a run is made of, by frequency: amplitudes (peak) of the lines that a window of the Hann kind leaves. */
export interface Spectrum {
  /** Hz, from nothing on in equal steps */
  frequency: Float64Array;
  /** Peak, in the quantity's unit; the first is the mean */
  amplitude: Float64Array;
}

/** Points that a window is taken in: a power of two */
const POINTS = 8192;

/**
 * Spectrum of a quantity over a window of a run: its values at equal moments times a Hann window, by the fast Fourier transform,
 * told so that a sine that fits the window whole times reads its own amplitude. What is faster than half the sampling folds back.
 * Source: Harris, "On the use of windows for harmonic analysis with the discrete Fourier transform", Proc. IEEE 66 (1978).
 */
export function spectrumOf(record: Recording, quantity: number, from: number, until: number, points = POINTS): Spectrum | undefined {
  const step = (until - from) / points;
  const values = Array.from({ length: points }, (_, k) => record.at(quantity, from + k * step));
  if (!(step > 0) || values.some(Number.isNaN)) return undefined;
  const mean = values.reduce((a, b) => a + b, 0) / points;
  const fft = new FFT(points);
  const out = fft.createComplexArray();
  // Less its mean, which a window would smear over the first lines; a Hann window halves every amplitude.
  fft.realTransform(out, values.map((v, k) => (v - mean) * (1 - Math.cos((2 * Math.PI * k) / points))));
  const half = points / 2;
  return {
    frequency: Float64Array.from({ length: half }, (_, k) => k / (until - from)),
    amplitude: Float64Array.from({ length: half }, (_, k) => (k === 0 ? Math.abs(mean) : (2 * Math.hypot(out[2 * k]!, out[2 * k + 1]!)) / points)),
  };
}

/** The highest lines of a spectrum, each higher than what stands beside it, the highest first. */
export function peaksOf({ frequency, amplitude }: Spectrum, count: number): { frequency: number; amplitude: number }[] {
  const peaks: { frequency: number; amplitude: number }[] = [];
  for (let k = 2; k < amplitude.length - 1; k++) if (amplitude[k]! >= amplitude[k - 1]! && amplitude[k]! > amplitude[k + 1]!) peaks.push({ frequency: frequency[k]!, amplitude: amplitude[k]! });
  return peaks.sort((a, b) => b.amplitude - a.amplitude).slice(0, count);
}
