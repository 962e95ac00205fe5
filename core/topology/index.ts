import { boostDiode } from './boostDiode';
import { boostSynchronous } from './boostSynchronous';
import { buckDiode } from './buckDiode';
import { buckSynchronous } from './buckSynchronous';
import { chopper } from './chopper';
import { cuk } from './cuk';
import { flybackOne } from './flybackOne';
import { flybackTwo } from './flybackTwo';
import { forwardReset } from './forwardReset';
import { forwardTwoSwitch } from './forwardTwoSwitch';
import { fourSwitch } from './fourSwitch';
import { halfBridgeDiode } from './halfBridgeDiode';
import { halfBridgeSynchronous } from './halfBridgeSynchronous';
import { mainsBoost, mainsBoostOf } from './mainsBoost';
import { mainsFlyback } from './mainsFlyback';
import { mainsSepic } from './mainsSepic';
import { interleavedBuck } from './interleaved';
import { inverting } from './inverting';
import { phaseShifted } from './phaseShifted';
import { sepic } from './sepic';
import { sepicCoupled } from './sepicCoupled';
import { totemPole } from './totemPole';
import type { Problem } from '../problem';
import type { Brief } from '../surroundings/brief';
import type { Topology } from './types';

/** Every topology there is; a new one is a file beside the others and a line here. */
export const TOPOLOGIES: readonly Topology[] = [buckSynchronous, buckDiode, interleavedBuck(2), interleavedBuck(3), interleavedBuck(4), chopper, boostSynchronous, boostDiode, fourSwitch, inverting, sepic, sepicCoupled, cuk, flybackOne, flybackTwo, forwardReset, forwardTwoSwitch, halfBridgeDiode, halfBridgeSynchronous, phaseShifted, mainsBoost, mainsBoostOf(2), totemPole, mainsSepic, mainsFlyback];

/** The topology of that id, without branches; undefined when there is none. */
export const topologyNamed = (id: string): Topology | undefined => TOPOLOGIES.find((t) => t.id === id);
/** Why a topology can not serve a brief, with what would help; undefined when it can. */
export function refusal(t: Topology, brief: Brief): Problem | undefined {
  const wanted = 1 + (brief.further?.length ?? 0);
  const makes = t.outputs ?? 1;
  if (wanted !== makes)
    return { code: 'impossible', where: 'brief.further', message: `it makes ${makes === 1 ? 'one output' : `${makes} outputs`}, and the brief wants ${wanted}`, remedy: wanted > makes ? 'leave further outputs out, or take a topology that makes them' : 'add an output to the brief' };
  if (brief.line.mains !== undefined && !t.mains) return { code: 'impossible', where: 'brief.line.mains', message: 'it wants a dc line', remedy: 'take a topology with a rectifier, or give a dc line' };
  if (brief.line.mains === undefined && t.mains) return { code: 'impossible', where: 'brief.line.mains', message: 'it is fed from ac mains', remedy: 'give the frequency of the mains, or take a topology for a dc line' };
  if (brief.isolated && !t.isolated) return { code: 'impossible', where: 'brief.isolated', message: 'it does not part the output from the line', remedy: 'take a topology with a transformer, or do without isolation' };
  return t.refuses(brief);
}
export * from './types';
export * from '../surroundings/brief';
export { SYMBOLS, type Stroke } from './symbols';
