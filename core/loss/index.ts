import { bodyDiode } from './bodyDiode';
import { balancing, conduction, copper, forward, parallelResistor, seriesResistance, windings } from './conduction';
import { copperAc, windingsAc } from './copperAc';
import { core, transformerCore } from './core';
import { deadTime } from './deadTime';
import { gateDrive } from './gateDrive';
import { outputCapacitance } from './outputCapacitance';
import { overlap } from './overlap';
import { recovery } from './recovery';
import type { Mechanism, PartStates } from './types';

/** All mechanisms, by the kind of part they act in. */
export const MECHANISMS: { [K in keyof PartStates]: readonly Mechanism<K>[] } = {
  switch: [conduction, overlap, outputCapacitance, recovery, deadTime, bodyDiode, gateDrive],
  diode: [forward],
  inductor: [copper, copperAc, core],
  capacitor: [seriesResistance, parallelResistor, balancing],
  transformer: [windings, windingsAc, transformerCore],
};

/** Watts by mechanism id for one part. */
export function partLosses<K extends keyof PartStates>(kind: K, state: PartStates[K]): Record<string, number> {
  return Object.fromEntries(MECHANISMS[kind].filter((m) => m.applies?.(state) ?? true).map((m) => [m.id, m.power(state)]));
}

export * from './types';
