import { Circuit, CIRCUIT_KIND, type Element, type Modulator } from '../circuit/elements';
import { restState, type Machine, type State } from '../circuit/machine';
import { fail, ok, type Result } from '../problem';
import { gatesIn, type Logic } from './netlistGates';

/**
 * The other way: a netlist in the plain text that circuit simulators share, read as a circuit. Lines of R, L, C, K, V, I, E, F, G, H, S, and of B
 * and T as far as gates and loads go; switches that their own voltage closes are diodes. What has no place in an exact circuit (transistors,
 * diodes by an exponential, subcircuits, included files) is refused by its line.
 */
export interface Netlist {
  circuit: Circuit;
  /** Initial conditions of coils (A) and capacitors (V) by their names */
  begins: Readonly<Record<string, number>>;
  /** Lines that were not needed, each as it stands */
  ignored: string[];
}

/** Characters and elements at most */
const [LONGEST, MOST] = [20_000_000, 400];
/** Share of a period beyond which edges are ramps */
const SLOW = 1e-3;

/** Does a text look like one: no JSON, and lines of elements or commands? */
export const isNetlist = (text: string): boolean => !/^\s*[[{]/.test(text) && /^[ \t]*(\.(tran|end|model)\b|[rlcv][a-z0-9_]*[ \t]+\S+[ \t]+\S+[ \t]+\S)/im.test(text);

const SCALE: Record<string, number> = { t: 1e12, g: 1e9, meg: 1e6, k: 1e3, m: 1e-3, u: 1e-6, µ: 1e-6, n: 1e-9, p: 1e-12, f: 1e-15 };

/** A number as such files have it: "4.7u", "10meg", "22uH"; undefined where it is none. */
export function readNumber(text: string): number | undefined {
  const [, digits, scale] = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)(meg|[tgkmunpfµ])?[a-zµΩ]*$/i.exec(text) ?? [];
  const v = digits === undefined ? NaN : Number(digits) * (scale === undefined ? 1 : SCALE[scale.toLowerCase()]!);
  return Number.isFinite(v) ? v : undefined;
}

/** A line, its commas and brackets as they are, and where it stands. */
interface Line {
  text: string;
  at: number;
}

function linesOf(text: string): Line[] {
  const out: Line[] = [];
  for (const [k, raw] of text.split(/\r\n|\r|\n/).entries()) {
    // The first line is the title, whatever it says.
    if (k === 0) continue;
    const line = raw.replace(/;.*$/, '').trim();
    if (line === '' || line.startsWith('*')) continue;
    if (/^\.end$/i.test(line)) break;
    if (line.startsWith('+') && out.length > 0) out.at(-1)!.text += ` ${line.slice(1)}`;
    else out.push({ text: line, at: k + 1 });
  }
  return out;
}

/** Parameters that are read, by the kind of the line: what else stands there would be lost. */
const READ: Readonly<Record<string, readonly string[]>> = { L: ['IC'], C: ['IC'], T: ['Z0', 'TD'], B: ['V', 'I'] };
/** V about zero within which a switch that its own voltage closes is a diode */
const NOTHING = 1e-9;

/** Lines that say how a simulator is to run or show, and nothing of the circuit. */
const ASIDE = /^\.(tran|options?|save|print|plot|probe|temp|ac|op|meas(ure)?|four|title|ic|nodeset|backanno)\b/i;

/**
 * Read a netlist.
 * @returns the circuit and where it begins; problem "netlist" with the line that can not be read, and what would be right
 */
export function readNetlist(text: string): Result<Netlist> {
  if (text.length > LONGEST) return fail('size', '', `a netlist of ${Math.round(text.length / 1e6)} MB is none of a converter`, `keep to ${LONGEST / 1e6} MB`);
  const lines = linesOf(text);
  const models = new Map<string, Record<string, number>>();
  const elements: Element[] = [];
  const begins: Record<string, number> = {};
  const ignored: string[] = [];
  const logic: Logic = { compared: new Map(), gates: new Map(), lines: new Map(), pulses: new Map(), levels: new Map() };
  const switches: { id: string; a: string; b: string; plus: string; minus: string; model: string; at: number }[] = [];
  const seen = new Map<string, string>();
  const nodes = new Map<string, string>([['0', '0'], ['gnd', '0']]);
  // Names are the same whatever their case; they are called as they stand first.
  const node = (name: string): string => {
    const key = name.toLowerCase();
    const found = nodes.get(key) ?? name;
    nodes.set(key, found);
    return found;
  };
  for (const { text: line, at } of lines) {
    const wrong = (message: string, remedy: string): Result<never> => fail('netlist', `line ${at}`, message, remedy);
    if (line.startsWith('.')) {
      const model = /^\.model\s+(\S+)\s+(\w+)\s*\(?([^)]*)\)?/i.exec(line);
      if (model) {
        if (model[2]!.toLowerCase() !== 'sw') return wrong(`a model of kind ${model[2]} is none that is exact`, 'write a diode as a source of its drop and a switch that its own voltage closes');
        models.set(model[1]!.toLowerCase(), Object.fromEntries([...model[3]!.matchAll(/(\w+)\s*=\s*(\S+)/g)].map(([, key, v]) => [key!.toUpperCase(), readNumber(v!) ?? NaN])));
      } else if (ASIDE.test(line)) ignored.push(line);
      else return wrong(`"${line.split(/\s/)[0]}" is not read`, 'write out what it stands for: no files, subcircuits or parameters are taken in');
      continue;
    }
    const letter = line[0]!.toUpperCase();
    const [id, ...written] = line.split(/[\s,]+/) as [string, ...string[]];
    // The cells that are nodes, by the kind of the line.
    const ends = { E: 4, G: 4, S: 4, T: 4 }[letter] ?? (letter === 'K' ? 0 : 2);
    const cells = written.map((c, k) => (k < ends ? node(c) : c));
    if (seen.has(id.toLowerCase())) return wrong(`${id} stands here twice`, 'give each its own name');
    seen.set(id.toLowerCase(), id);
    if (elements.length > MOST) return wrong(`more than ${MOST} elements are more than can be solved exactly in good time`, 'keep to the part that switches');
    const value = (cell: string | undefined): number | undefined => (cell === undefined ? undefined : readNumber(cell));
    const further = [...line.matchAll(/([A-Za-z]\w*)\s*=/g)].map((m) => m[1]!).find((key) => !(READ[letter] ?? []).includes(key.toUpperCase()));
    if (further !== undefined) return wrong(`${further} of ${id} is not read, and it would be another circuit without it`, 'write it as an element of its own, or leave it out');
    const initial = /\bic\s*=\s*(\S+)/i.exec(line)?.[1];
    if (initial !== undefined) begins[id] = readNumber(initial) ?? NaN;
    const [a, b] = [cells[0]!, cells[1]!];
    switch (letter) {
      case 'R':
      case 'L':
      case 'C': {
        const v = value(cells[2]);
        if (v === undefined) return wrong(`${id} has no value that can be read`, 'give it as in "R1 in out 4.7k"');
        elements.push(letter === 'R' ? { kind: 'resistor', id, a, b, resistance: v } : letter === 'L' ? { kind: 'inductor', id, a, b, inductance: v } : { kind: 'capacitor', id, a, b, capacitance: v, esr: 0 });
        break;
      }
      case 'K': {
        const k = value(cells.at(-1));
        if (k === undefined || cells.length < 3) return wrong(`${id} couples nothing`, 'give it as in "K1 L1 L2 0.99"');
        elements.push({ kind: 'coupling', id, inductors: cells.slice(0, -1).map((l) => seen.get(l.toLowerCase()) ?? l), k });
        break;
      }
      case 'V':
      case 'I': {
        const read = source(line, id);
        if (!read) return wrong(`what ${id} does is not read`, 'give DC, PULSE with edges much shorter than its period, PWL, or SIN without delay and damping');
        if (read.pulse) logic.pulses.set(a, { id, ...read.pulse });
        else if (typeof read.value === 'number') logic.levels.set(a, { id, value: read.value });
        elements.push({ kind: letter === 'V' ? 'voltage-source' : 'current-source', id, a, b, value: read.value });
        break;
      }
      case 'E':
      case 'G': {
        const gain = value(cells[4]);
        if (gain === undefined) return wrong(`${id} has no gain that can be read`, 'give it as in "E1 out 0 plus minus 10"');
        elements.push({ kind: letter === 'E' ? 'controlled-voltage' : 'controlled-current', id, a, b, plus: cells[2]!, minus: cells[3]!, gain });
        break;
      }
      case 'F':
      case 'H': {
        const gain = value(cells[3]);
        const of = cells[2];
        if (gain === undefined || of === undefined) return wrong(`${id} has no gain that can be read`, 'give it as in "H1 out 0 V1 0.1"');
        const sense = letter === 'H' ? id : `${id} sense`;
        elements.push({ kind: 'current-sense', id: sense, a: letter === 'H' ? a : sense, b: letter === 'H' ? b : '0', of, gain: letter === 'H' ? gain : 1 });
        if (letter === 'F') elements.push({ kind: 'controlled-current', id, a, b, plus: sense, minus: '0', gain });
        break;
      }
      case 'S':
        if (cells.length < 5) return wrong(`${id} has no model`, 'give it as in "S1 a b gate 0 SW1"');
        switches.push({ id, a, b, plus: cells[2]!, minus: cells[3]!, model: cells[4]!.toLowerCase(), at });
        break;
      case 'T': {
        const delay = readNumber(/\btd\s*=\s*(\S+)/i.exec(line)?.[1] ?? '');
        if (delay === undefined || b !== '0' || cells[3] !== '0') return wrong(`${id} is no delay of a gate`, 'lines are read where they delay a gate, from a node to another, both against node 0');
        logic.lines.set(cells[2]!, { from: a, delay });
        break;
      }
      case 'B': {
        const found = behaviour(line.slice(id.length).replace(/V\(([^)]*)\)/gi, (_, inside: string) => `V(${inside.split(',').map((n) => node(n.trim())).join(',')})`), id, a, b, logic);
        if (found === undefined) return wrong(`what ${id} computes is not read`, 'a gate is V=u(V(command)-V(carrier)), or a product of u(V(x)-0.5) and (1-u(V(x)-0.5)); a load is I=P/max(V(a,b),least) or I=A*min(1,V(a,b)/least)');
        if (found) elements.push(found);
        break;
      }
      default:
        return wrong(`${id} is of a kind that is not read`, letter === 'D' ? 'write a diode as a source of its drop and a switch that its own voltage closes' : 'write it with R, L, C, K, V, I, E, F, G, H and S');
    }
  }
  // Sources that currents are read by are named as they were first.
  for (const e of elements) if (e.kind === 'current-sense') e.of = seen.get(e.of.toLowerCase()) ?? e.of;
  const driven: { node: string; threshold: number }[] = [];
  for (const s of switches) {
    const model = models.get(s.model);
    const [on, off = 1e12, threshold = 0, hysteresis = 0] = [model?.RON, model?.ROFF, model?.VT, model?.VH];
    if (!model || !(on! > 0) || !(off > 0)) return fail('netlist', `line ${s.at}`, `${s.id} has no model with RON and ROFF`, 'add one, as in ".model SW1 SW(RON=10m ROFF=1meg VT=0.5 VH=0)"');
    const two = { id: s.id, a: s.a, b: s.b };
    const unread = (message: string, remedy: string): ReturnType<typeof fail> => fail('netlist', `line ${s.at}`, message, remedy);
    if (Math.abs(hysteresis) > NOTHING) return unread(`the hysteresis VH of ${s.id} is not read`, 'set it to 0');
    const own = [s.a, s.b].includes(s.plus) && [s.a, s.b].includes(s.minus);
    if (own && Math.abs(threshold) > NOTHING) return unread(`${s.id} closes at ${threshold} V of its own, and then drops none of it`, 'give it VT=0, with a V in series for the drop of a diode');
    if ((s.plus === s.a && s.minus === s.b) || (s.plus === s.b && s.minus === s.a)) elements.push({ kind: 'diode', ...two, ...(s.plus === s.a ? {} : { a: s.b, b: s.a }), drop: 0, onResistance: on!, offConductance: 1 / off });
    else if (s.minus !== '0') return fail('netlist', `line ${s.at}`, `${s.id} is not driven against node 0`, 'put its gate between a node and 0');
    else {
      driven.push({ node: s.plus, threshold });
      elements.push({ kind: 'switch', ...two, onResistance: on!, offConductance: 1 / off, gate: s.plus });
    }
  }
  const apart = driven.find((d) => driven.some((x) => x.node === d.node && x.threshold !== d.threshold));
  if (apart) return fail('netlist', apart.node, 'switches at this gate turn at different voltages', 'give them models of one VT');
  const gates = gatesIn(logic, new Map(driven.map((d) => [d.node, d.threshold])));
  if (!gates.ok) return gates;
  const still = gates.value.still;
  const used = gates.value.used;
  for (const { id, rise, fall, period } of logic.pulses.values()) if (!used.elements.has(id) && rise + fall > SLOW * period) return fail('netlist', id, 'it rises or falls for long, again and again, which is read of carriers of gates only', 'give it edges much shorter than its period, or points');
  const kept = elements.flatMap((e): Element[] => {
    if (used.elements.has(e.id) || (e.kind === 'resistor' && (used.nodes.has(e.a) || used.nodes.has(e.b)))) return [];
    // A gate that never moves: a resistance.
    if (e.kind === 'switch' && still.has(e.gate)) return [{ kind: 'resistor', id: e.id, a: e.a, b: e.b, resistance: still.get(e.gate) ? e.onResistance : 1 / e.offConductance }];
    return [e];
  });
  const parsed = Circuit.safeParse({ kind: CIRCUIT_KIND, version: 1, name: titleOf(text), elements: kept, modulators: gates.value.modulators satisfies Modulator[] });
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    const at = issue!.path[0] === 'elements' ? kept[Number(issue!.path[1])]?.id : undefined;
    return fail('netlist', at ?? issue!.path.join('.'), 'the value is not right', issue!.message.replace(/^Invalid input: /, '').toLowerCase());
  }
  return ok({ circuit: parsed.data, begins, ignored });
}

const titleOf = (text: string): string => text.split(/\r?\n/, 1)[0]!.replace(/^\*\s*/, '').slice(0, 80);

/** What a source does; a pulse also as it stands. */
function source(line: string, id: string): { value: Extract<Element, { kind: 'voltage-source' }>['value']; pulse?: { low: number; high: number; delay: number; rise: number; fall: number; width: number; period: number } } | undefined {
  const shape = /\b(pulse|pwl|sin)\s*\(?([^)]*)\)?/i.exec(line.slice(id.length));
  if (!shape) {
    const cell = line.split(/\s+/).slice(3).filter((c) => !/^dc$/i.test(c))[0];
    const v = cell === undefined ? 0 : readNumber(cell);
    return v === undefined ? undefined : { value: v };
  }
  const v = shape[2]!.trim().split(/[\s,]+/).map((c) => readNumber(c) ?? NaN);
  if (v.length === 0 || v.some(Number.isNaN)) return undefined;
  switch (shape[1]!.toLowerCase()) {
    case 'sin': {
      const [offset = 0, amplitude = 0, frequency = 0, delay = 0, damping = 0, phase = 0] = v;
      return delay === 0 && damping === 0 && frequency > 0 ? { value: { shape: 'sine', offset, amplitude, frequency, phase } } : undefined;
    }
    case 'pwl':
      return v.length % 2 === 0 ? { value: { shape: 'points', points: Array.from({ length: v.length / 2 }, (_, k): [number, number] => [v[2 * k]!, v[2 * k + 1]!]) } } : undefined;
    default: {
      const [low = 0, high = 0, delay = 0, rise = 0, fall = 0, width = 0, period = 0] = v;
      if (!(period > 0)) return undefined;
      const pulse = { low, high, delay, rise, fall, width, period };
      // A carrier has no place in the circuit besides what compares it.
      return { value: { shape: 'pulse', low, high, delay: delay + rise / 2, width: Math.min(period * 0.999, width + (rise + fall) / 2) || period / 2, period }, pulse };
    }
  }
}

/** What a line of a B computes: a load, or a gate (put among the logic); undefined where neither. */
function behaviour(rest: string, id: string, a: string, b: string, logic: Logic): Element | false | undefined {
  const text = /\b([VI])\s*=\s*\{?([^}]*)\}?\s*$/i.exec(rest);
  const expression = text?.[2]!.replace(/\s+/g, '');
  if (!text || !expression) return undefined;
  if (text[1]!.toUpperCase() === 'I') {
    const power = /^([^/]+)\/max\(V\(([^,]+),([^)]+)\),([^)]+)\)$/i.exec(expression);
    const current = /^([^*]+)\*min\(1,V\(([^,]+),([^)]+)\)\/([^)]+)\)$/i.exec(expression);
    const [, size, p, q, least] = power ?? current ?? [];
    const [v, lowest] = [readNumber(size ?? ''), readNumber(least ?? '')];
    if (v === undefined || lowest === undefined || p !== a || q !== b) return undefined;
    return power ? { kind: 'power-load', id, a, b, power: v, lowest, accuracy: 0.005 } : { kind: 'current-load', id, a, b, current: v, lowest };
  }
  if (b !== '0') return undefined;
  const compared = /^u\(V\(([^,)]+)(?:,([^)]+))?\)-V\(([^)]+)\)\)$/i.exec(expression);
  if (compared) {
    logic.compared.set(a, { plus: compared[1]!, minus: compared[2] ?? '0', carrier: compared[3]! });
    return false;
  }
  const factors = expression.split('*').map((f) => /^(?:u\(V\(([^)]+)\)-0?\.5\)|\(1-u\(V\(([^)]+)\)-0?\.5\)\))$/i.exec(f));
  if (factors.some((f) => !f)) return undefined;
  const not = factors[0]![2] !== undefined;
  if (factors.some((f) => (f![2] !== undefined) !== not)) return undefined;
  logic.gates.set(a, { not, of: factors.map((f) => (f![1] ?? f![2])!) });
  return false;
}

/** Where a netlist says that a circuit begins: at rest, but for its coils and capacitors. */
export function beginningOf(m: Machine, begins: Readonly<Record<string, number>>): State {
  const state = restState(m);
  for (const [id, v] of Object.entries(begins)) {
    const column = m.layout.column.get(id);
    if (column !== undefined && column < m.layout.n) state.z[column] = v;
  }
  return state;
}
