import type { Discretisation } from './discretise';
import { DISCRETISATIONS } from './discretise';
import type { Control, Setting } from './types';

/** What a sampled controller has of its own, in a design's control. */
export const SAMPLING_SETTINGS: Readonly<Record<string, Setting>> = {
  sampleAt: { unit: '%', title: 'samples at', value: 'placed' },
  computing: { unit: 's', title: 'computes for', value: 1e-6 },
  converterBits: { unit: '', title: 'bits of the converter', value: 12, asked: true },
  converterRange: { unit: 'V', title: 'range of the converter', value: 3.3, asked: true },
  modulatorStep: { unit: 's', title: 'step of the modulator', value: 1e-9, asked: true },
  wordBits: { unit: '', title: 'bits of a word', value: 16, asked: true },
  fractionBits: { unit: '', title: 'bits behind the point', value: 'placed' },
};

/** When a sampled controller does what. */
export interface Sampling {
  method: Discretisation;
  /** s between samples: once a switching period */
  period: number;
  /** Share of the period at which it samples */
  phase: number;
  /** s from there to its output: it takes effect as the next period begins */
  delay: number;
}

/** How a design samples; undefined where its controller is a network. @param frequency Hz of switching */
export function samplingOf(control: Control, frequency: number): Sampling | undefined {
  const method = DISCRETISATIONS.find((m) => m.id === control.sampled)?.id;
  if (method === undefined) return undefined;
  const phase = (control.sampleAt as number | null) ?? latest(control, frequency);
  return { method, period: 1 / frequency, phase, delay: (1 - phase) / frequency };
}

/** The latest share of the period at which a sample can be taken so that what is computed of it takes effect as the next begins. */
export const latest = (control: Control, frequency: number): number => Math.max(0, 1 - (control.computing as number) * frequency);
