import type { Control, Setting } from './types';

/** What a modulator can not do: gates shorter than its least time on. A converter that would want those skips periods. */
export const LIMIT_SETTINGS: Readonly<Record<string, Setting>> = {
  minimumOn: { unit: 's', title: 'least time on', value: 'none', none: { reads: 'none', begins: 1e-7 }, asked: true },
};

/** s that a gate is on at least; nothing where there is no such limit. */
export const leastOnOf = (control: Control | undefined): number => (control?.minimumOn as number | null | undefined) ?? 0;
