import { peakCurrent } from './peakCurrent';
import { voltageTransconductance } from './voltageTransconductance';
import { voltageTypeThree } from './voltageTypeThree';
import type { ControlStructure, Setting } from './types';

/** Every control structure there is; a new one is a file beside the others and a line here. */
export const STRUCTURES: readonly ControlStructure[] = [voltageTypeThree, voltageTransconductance, peakCurrent];

/** The control structure of that id; undefined when there is none. */
export const structureNamed = (id: string): ControlStructure | undefined => STRUCTURES.find((s) => s.id === id);

/** The settings of one structure, its amplifier's first. */
export const settingsOf = ({ amplifier, settings }: ControlStructure): Record<string, Setting> => ({ ...amplifier.settings, ...settings });

/** Every setting that a structure has, by key: what is called alike is the same. */
export const SETTINGS: Readonly<Record<string, Setting>> = Object.assign({}, ...STRUCTURES.map(settingsOf));

export { networkRemark } from './remark';
export type { Amplifier, Control, ControlStructure, Corners, Drive, DriveFigure, Handle, Network, NetworkPart, Setting, StageAhead } from './types';
