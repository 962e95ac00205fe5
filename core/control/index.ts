import { AMPLIFIERS, amplifierNamed } from './amplifiers';
import { peakCurrent } from './peakCurrent';
import { voltageMode } from './voltageMode';
import type { Control, ControlStructure, Setting } from './types';

/** Every control structure there is; a new one is a file beside the others and a line here. */
export const STRUCTURES: readonly ControlStructure[] = [voltageMode, peakCurrent];

/** The control structure of that id; undefined when there is none. */
export const structureNamed = (id: string): ControlStructure | undefined => STRUCTURES.find((s) => s.id === id);

/** The settings of a design's control by their keys: its amplifier's first. */
export const settingsOf = ({ method, amplifier }: Pick<Control, 'method' | 'amplifier'>): Record<string, Setting> => ({ ...amplifierNamed(amplifier)!.settings, ...structureNamed(method)!.settings });

/** Every setting that a structure or an amplifier has, by key: what is called alike is the same. */
export const SETTINGS: Readonly<Record<string, Setting>> = Object.assign({}, ...AMPLIFIERS.map((a) => a.settings), ...STRUCTURES.map((s) => s.settings));

export { AMPLIFIERS, amplifierNamed, transferOf } from './amplifiers';
export { networkRemark } from './amplifiers/remark';
export type { Amplifier, Control, ControlStructure, Corners, Drive, DriveFigure, Handle, Network, NetworkPart, Setting, StageAhead } from './types';
