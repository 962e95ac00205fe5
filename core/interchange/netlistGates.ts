import type { Modulator } from '../circuit/elements';
import { fail, ok, type Result } from '../problem';

/** How gates are made in a netlist: what compares, what delays, what drives by time. */
export interface Logic {
  /** By the node that a comparison stands on: a voltage against a carrier */
  compared: Map<string, { plus: string; minus: string; carrier: string }>;
  /** By the node that a product of levels stands on: all of them high, or all low */
  gates: Map<string, { not: boolean; of: string[] }>;
  /** By the far node of a line: from where, and s */
  lines: Map<string, { from: string; delay: number }>;
  /** By the node of a source that pulses, or stands still */
  pulses: Map<string, { id: string; low: number; high: number; delay: number; rise: number; fall: number; width: number; period: number }>;
  levels: Map<string, { id: string; value: number }>;
}

export interface Gates {
  modulators: Modulator[];
  /** Gates that never move, and whether they are on */
  still: Map<string, boolean>;
  /** What served for gates alone, and is no part of the circuit */
  used: { elements: Set<string>; nodes: Set<string> };
}

/** Share of the period that a carrier rises for, at least */
const RISES = 0.9;

/** Where a level comes from through lines, and s that it is late by. */
function origin({ lines }: Logic, node: string): { node: string; delay: number; through: string[] } {
  const through: string[] = [];
  let [at, delay] = [node, 0];
  for (let line = lines.get(at); line && through.length < 8; line = lines.get(at)) {
    through.push(at);
    delay += line.delay;
    at = line.from;
  }
  return { node: at, delay, through };
}

/** The modulators that drive some gate nodes, by the volts that each turns at. @returns them; problem "netlist" names a gate that is not understood */
export function gatesIn(logic: Logic, wanted: ReadonlyMap<string, number>): Result<Gates> {
  const used: Gates['used'] = { elements: new Set(), nodes: new Set() };
  const still = new Map<string, boolean>();
  const modulators: Modulator[] = [];
  const pairs = new Map<string, { gate?: string; complement?: string; delay: number; deadTime: number }>();
  for (const [node, turns] of wanted) {
    const unknown = fail('netlist', node, 'what drives this gate is not understood', 'drive it by a PULSE or DC source, or by a comparison of a command with a carrier');
    const level = logic.levels.get(node);
    const pulse = logic.pulses.get(node);
    if (level) {
      still.set(node, level.value > turns);
      used.elements.add(level.id);
    } else if (pulse) {
      // What never comes by the threshold never turns it.
      if (pulse.low > turns === pulse.high > turns) still.set(node, pulse.low > turns);
      else modulators.push(timed(node, pulse, turns));
      used.elements.add(pulse.id);
    } else if (!(turns > 0 && turns < 1)) {
      return fail('netlist', node, `a gate of levels from 0 to 1 never comes by ${turns} V`, 'give its switches VT=0.5');
    } else {
      const own = logic.gates.get(node) ?? (logic.compared.has(node) || logic.lines.has(node) ? { not: false, of: [node] } : undefined);
      if (!own) return unknown;
      const origins = own.of.map((n) => origin(logic, n));
      const [from] = origins;
      if (origins.some((o) => o.node !== from!.node) || !logic.compared.has(from!.node)) return unknown;
      const [least, most] = [Math.min(...origins.map((o) => o.delay)), Math.max(...origins.map((o) => o.delay))];
      const pair = pairs.get(from!.node) ?? { delay: least, deadTime: 0 };
      if (own.not ? pair.complement !== undefined : pair.gate !== undefined) return unknown;
      pairs.set(from!.node, { ...pair, ...(own.not ? { complement: node } : { gate: node }), deadTime: Math.max(pair.deadTime, most - least) });
      for (const o of origins) o.through.forEach((n) => used.nodes.add(n));
    }
  }
  for (const [node, { gate, complement, delay, deadTime }] of pairs) {
    const { plus, minus, carrier } = logic.compared.get(node)!;
    const saw = logic.pulses.get(carrier);
    if (!saw || !(saw.rise >= RISES * saw.period)) return fail('netlist', carrier, 'it is no carrier that rises through its period', 'give it as PULSE(low high 0 T-small small 0 T)');
    used.elements.add(saw.id);
    modulators.push({ kind: 'pwm', id: `modulator ${node}`, gate: gate ?? `not ${complement}`, ...(complement === undefined ? {} : { complement }), deadTime, period: saw.period, phase: (saw.delay / saw.period) % 1, carrier: 'trailing', sampling: 'natural', control: [plus, minus], low: saw.low, high: saw.high, delay });
  }
  return ok({ modulators, still, used });
}

/** A gate that a source drives: on and off where its edges pass the threshold. */
function timed(gate: string, { low, high, delay, rise, fall, width, period }: { low: number; high: number; delay: number; rise: number; fall: number; width: number; period: number }, turns: number): Modulator {
  const share = (turns - low) / (high - low);
  const first = ((delay + share * rise) / period) % 1;
  const second = first + ((1 - share) * rise + width + (1 - share) * fall) / period;
  const [on, off] = high > low ? [first, second] : [second % 1, first <= second % 1 ? first + 1 : first];
  return { kind: 'timed', id: `drives ${gate}`, gate, period, on, off };
}
