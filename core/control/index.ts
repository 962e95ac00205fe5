import { AMPLIFIERS, amplifierNamed } from './amplifiers';
import { OP_AMP } from './amplifiers/opAmp';
import { averageCurrent } from './averageCurrent';
import { constantOnTime } from './constantOnTime';
import { criticalConduction } from './criticalConduction';
import { heldCommand } from './held';
import { heldDuty } from './heldDuty';
import { peakCurrent } from './peakCurrent';
import { valleyCurrent } from './valleyCurrent';
import { voltageFeedForward } from './voltageFeedForward';
import { voltageMode } from './voltageMode';
import { CLIP_SETTINGS, LIMIT_SETTINGS, RANGE_SETTINGS, START_SETTINGS } from './limits';
import { MAINS_LOOP_SETTINGS } from './mainsLoop';
import { SAMPLING_SETTINGS } from './sampling';
import type { Control, ControlStructure, Setting } from './types';

/** Every control structure there is; a new one is a file beside the others and a line here. */
export const STRUCTURES: readonly ControlStructure[] = [voltageMode, voltageFeedForward, peakCurrent, valleyCurrent, averageCurrent, constantOnTime, heldDuty, criticalConduction];

/** The control structure of that id; undefined when there is none. */
export const structureNamed = (id: string): ControlStructure | undefined => STRUCTURES.find((s) => s.id === id);

/** The key of an inner loop's setting in a design's control. */
export const innerKey = (key: string): string => `inner${key[0]!.toUpperCase()}${key.slice(1)}`;

/** The settings of the amplifier of a structure's inner loop: those of its corners. */
const innerSettings = ({ inner }: ControlStructure): Record<string, Setting> => {
  const amplifier = inner && amplifierNamed(inner.amplifier)!;
  return Object.fromEntries((amplifier?.handles ?? []).map(({ key }) => [innerKey(key), { ...amplifier!.settings[key]!, title: `current loop, ${amplifier!.settings[key]!.title}` }]));
};

/** The settings of a design's control by their keys: its amplifier's first. @param mains is it fed from the mains */
export function settingsOf({ method, amplifier, sampled }: Pick<Control, 'method' | 'amplifier' | 'sampled'>, mains = false): Record<string, Setting> {
  const structure = structureNamed(method)!;
  // A program has no op-amp.
  const own = Object.entries(amplifierNamed(amplifier)!.settings).filter(([key]) => sampled === 'none' || !(key in OP_AMP));
  return { ...Object.fromEntries(own), ...innerSettings(structure), ...structure.settings, ...(structure.clocked === false ? {} : LIMIT_SETTINGS), ...START_SETTINGS, ...(mains && !heldCommand({ method }) ? MAINS_LOOP_SETTINGS : {}), ...(sampled === 'none' ? CLIP_SETTINGS : { ...RANGE_SETTINGS, ...SAMPLING_SETTINGS }) };
}

/** Every setting that a structure or an amplifier has, by key: what is called alike is the same. */
export const SETTINGS: Readonly<Record<string, Setting>> = Object.assign({}, ...AMPLIFIERS.map((a) => a.settings), ...STRUCTURES.flatMap((s) => [innerSettings(s), s.settings]), LIMIT_SETTINGS, START_SETTINGS, MAINS_LOOP_SETTINGS, CLIP_SETTINGS, SAMPLING_SETTINGS);

export { AMPLIFIERS, amplifierNamed, transferOf } from './amplifiers';
export { DISCRETISATIONS } from './discretise';
export { CARRIERS } from './dutyRamp';
export { heldBy } from './amplifiers/network';
export { networkRemark } from './amplifiers/remark';
export type { Amplifier, Control, ControlStructure, Corners, Drive, DriveFigure, Handle, Network, NetworkPart, Setting, StageAhead } from './types';
