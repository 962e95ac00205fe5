import { boostDiode } from './boostDiode';
import { boostSynchronous } from './boostSynchronous';
import { buckDiode } from './buckDiode';
import { buckSynchronous } from './buckSynchronous';
import { cuk } from './cuk';
import { forwardReset } from './forwardReset';
import { forwardTwoSwitch } from './forwardTwoSwitch';
import { inverting } from './inverting';
import { sepic } from './sepic';
import type { Topology } from './types';

/** Every topology there is; a new one is a file beside the others and a line here. */
export const TOPOLOGIES: readonly Topology[] = [buckSynchronous, buckDiode, boostSynchronous, boostDiode, inverting, sepic, cuk, forwardReset, forwardTwoSwitch];

export const topologyNamed = (id: string): Topology | undefined => TOPOLOGIES.find((t) => t.id === id);
export * from './types';
export * from './brief';
