import type { Amplifier, Control, Corners, Network, Rational } from '../types';
import { optocoupler } from './optocoupler';
import { pi } from './pi';
import { pid } from './pid';
import { transconductance } from './transconductance';
import { typeOne } from './typeOne';
import { typeThree } from './typeThree';
import { typeTwo } from './typeTwo';

/** Every error amplifier there is; a new one is a file beside the others and a line here. */
export const AMPLIFIERS: readonly Amplifier[] = [typeThree, typeTwo, typeOne, transconductance, optocoupler, pi, pid];

/** The amplifier of that id; undefined when there is none. */
export const amplifierNamed = (id: string): Amplifier | undefined => AMPLIFIERS.find((a) => a.id === id);

/** What an amplifier transfers as built, with what it lacks. */
export const transferOf = (a: Amplifier, built: Corners, network: Network, control: Control): Rational => a.real?.(built, network, control) ?? a.transfer(built);
