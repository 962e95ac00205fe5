import type { Circuit, Element, ElementOf, Modulator, Waveform } from '../circuit/elements';
import { gatesOf } from '../circuit/eventSources';
import { canonical } from '../circuit/transfer';
import type { SettledCycle } from '../orbit/settle';
import { fail, ok, type Result } from '../problem';

/**
 * A circuit as a netlist in the plain text that circuit simulators share: a line an element, named by its first letter (R, L, C, K, V, I, S,
 * E, F, G, H, B, T), models of switches, initial conditions on coils and capacitors, a transient line.
 *
 * Diodes are a drop in series with a switch that its own voltage closes, so that they are straight as they are here. Gates that compare a
 * carrier with a command do so; gates of every other kind are driven at the moments of the settled cycle, and the file says so.
 */

/** Periods of the transient line, and steps of one */
const [PERIODS, STEPS] = [20, 400];
/** Ω of what is open, and of what holds a transformer's volts; s of an edge of a driven gate; share of a period in which a carrier falls back */
const [OPEN, HELD, EDGE, BACK] = [1e12, 1e9, 1e-10, 1e-6];

const number = (v: number): string => (Number.isInteger(v) && Math.abs(v) < 1e6 ? String(v) : v.toPrecision(15).replace(/\.?0+($|e)/, '$1').replace('e+', 'e'));

/** Names as such files have them: letters, digits and underscores, each once whatever its case. */
function naming(): (kind: string, name: string) => string {
  const given = new Map<string, string>();
  const taken = new Set<string>();
  return (kind, name) => {
    const key = `${kind}|${name}`;
    let found = given.get(key);
    if (found === undefined) {
      const plain = `${kind}${name.replace(/[^A-Za-z0-9]+/g, '_')}`;
      found = plain;
      for (let k = 2; taken.has(found.toLowerCase()); k++) found = `${plain}_${k}`;
      taken.add(found.toLowerCase());
      given.set(key, found);
    }
    return found;
  };
}

interface Writer {
  lines: string[];
  models: string[];
  /** What the file has otherwise than the circuit, in words */
  notes: Set<string>;
  node(name: string): string;
  name(letter: string, id: string): string;
  put(...cells: (string | number)[]): void;
}

/** v(state) at the beginning of the settled cycle. */
type Begins = (name: string) => number;

function waveform(w: Waveform, notes: Set<string>, id: string): string {
  if (typeof w === 'number') return `DC ${number(w)}`;
  switch (w.shape) {
    case 'step':
      return `PWL(0 ${number(w.from)} ${number(w.at)} ${number(w.from)} ${number(w.at + EDGE)} ${number(w.to)})`;
    case 'ramp':
      return `PWL(0 ${number(w.from)} ${number(w.start)} ${number(w.from)} ${number(w.start + w.duration)} ${number(w.to)})`;
    case 'pulse':
      return `PULSE(${[w.low, w.high, w.delay, EDGE, EDGE, w.width - EDGE, w.period].map(number).join(' ')})`;
    case 'sine':
      if (w.changes) notes.add(`${id} keeps its first amplitude`);
      return `SIN(${[w.offset, w.amplitude, w.frequency, 0, 0, w.phase].map(number).join(' ')})`;
    case 'points':
      return `PWL(${w.points.map(([t, v]) => `${number(t)} ${number(v)}`).join(' ')})`;
    case 'tones':
      notes.add(`${id} stands at its offset`);
      return `DC ${number(w.offset)}`;
  }
}

/** An ideal diode without drop between two nodes: a switch that its own voltage closes. */
function ownSwitch(o: Writer, id: string, a: string, b: string, on: number, off: number): void {
  const model = o.name('SW_', id);
  o.put(o.name('S_', id), a, b, a, b, model);
  o.models.push(`.model ${model} SW(RON=${number(on)} ROFF=${number(off)} VT=0 VH=0)`);
}

/** The element that a current is read by: a source of 0 V in its first lead. */
type SensedNode = (id: string) => string | undefined;

function element(o: Writer, e: Element, gate: (id: string) => string, begins: Begins, sensedNode: SensedNode): Result<void> {
  const two = 'a' in e ? [sensedNode(e.id) ?? o.node(e.a), o.node(e.b)] as const : (['', ''] as const);
  const [a, b] = two;
  switch (e.kind) {
    case 'resistor':
      o.put(o.name('R_', e.id), a, b, e.resistance);
      break;
    case 'inductor':
      if (e.saturation) o.notes.add(`${e.id} does not saturate`);
      o.put(o.name('L_', e.id), a, b, e.inductance, `IC=${number(begins(e.id) / (e.saturation ? e.inductance : 1))}`);
      break;
    case 'capacitor': {
      const inner = e.esr > 0 ? o.node(`${e.id} inside`) : b;
      o.put(o.name('C_', e.id), a, inner, e.capacitance, `IC=${number(begins(e.id))}`);
      if (e.esr > 0) o.put(o.name('R_', `${e.id} series`), inner, b, e.esr);
      break;
    }
    case 'coupling':
      o.put(o.name('K_', e.id), ...e.inductors.map((l) => o.name('L_', l)), e.k);
      break;
    case 'transformer': {
      // Volts of every winding follow the first, and the first carries what ampere turns leave.
      const [first, ...others] = e.windings;
      const [p, q] = [o.node(first!.a), o.node(first!.b)];
      // A coil in front of it would hang on sources of current alone.
      o.put(o.name('R_', e.id), p, q, HELD);
      others.forEach((w, k) => {
        const [own, ratio] = [`${e.id} ${k + 2}`, w.turns / first!.turns];
        const inner = o.node(`${own} inside`);
        o.put(o.name('V_', own), o.node(w.a), inner, 'DC 0');
        o.put(o.name('E_', own), inner, o.node(w.b), p, q, ratio);
        o.put(o.name('F_', own), q, p, o.name('V_', own), ratio);
      });
      break;
    }
    case 'voltage-source':
    case 'current-source':
      o.put(o.name(e.kind === 'voltage-source' ? 'V_' : 'I_', e.id), a, b, waveform(e.value, o.notes, e.id));
      break;
    case 'switch': {
      const model = o.name('SW_', e.id);
      o.put(o.name('S_', e.id), a, b, gate(e.id), '0', model);
      o.models.push(`.model ${model} SW(RON=${number(e.onResistance)} ROFF=${number(e.offConductance > 0 ? 1 / e.offConductance : OPEN)} VT=0.5 VH=0)`);
      break;
    }
    case 'diode':
    case 'string-load': {
      const [drop, on] = e.kind === 'diode' ? [e.drop, e.onResistance] : [e.threshold, e.slope];
      const inner = drop > 0 ? o.node(`${e.id} inside`) : b;
      ownSwitch(o, e.id, a, inner, on, 1 / e.offConductance);
      if (drop > 0) o.put(o.name('V_', e.id), inner, b, `DC ${number(drop)}`);
      break;
    }
    case 'current-load':
      o.put(o.name('B_', e.id), a, b, `I=${number(e.current)}*min(1,V(${a},${b})/${number(e.lowest)})`);
      break;
    case 'power-load':
      o.put(o.name('B_', e.id), a, b, `I=${number(e.power)}/max(V(${a},${b}),${number(e.lowest)})`);
      break;
    case 'controlled-voltage':
    case 'controlled-current':
      o.put(o.name(e.kind === 'controlled-voltage' ? 'E_' : 'G_', e.id), a, b, o.node(e.plus), o.node(e.minus), e.gain);
      break;
    case 'current-sense':
      o.put(o.name('H_', e.id), a, b, o.name('V_', `${e.of} current`), e.gain);
      break;
    case 'op-amp': {
      // One pole: a transconductance into a resistance and a capacitance, and what puts it out.
      const inner = o.node(`${e.id} inside`);
      o.put(o.name('G_', e.id), '0', inner, o.node(e.plus), o.node(e.minus), 1);
      o.put(o.name('R_', e.id), inner, '0', e.gain);
      o.put(o.name('C_', e.id), inner, '0', 1 / (2 * Math.PI * e.gain * e.bandwidth), `IC=${number(begins(e.id))}`);
      o.put(o.name('E_', e.id), a, b, inner, '0', 1);
      break;
    }
    case 'transfer':
      transfer(o, e, a, b, begins);
      break;
    default:
      return fail('netlist', e.id, `a ${e.kind} has no line in such a file`, 'leave it out, or put what it does on a source');
  }
  return ok(undefined);
}

/** A transfer function by its states, each the voltage of a capacitor; what it puts out across a resistance of 1 Ω. */
function transfer(o: Writer, e: ElementOf<'transfer'>, a: string, b: string, begins: Begins): void {
  const { c, d, feedback, rate } = canonical(e);
  const state = c.map((_, k) => o.node(`${e.id} state ${k}`));
  const sum = o.node(`${e.id} sum`);
  const [plus, minus] = [o.node(e.plus), o.node(e.minus)];
  const drive = (name: string, into: string, from: string, to: string, gain: number): void => {
    if (gain !== 0) o.put(o.name('G_', `${e.id} ${name}`), '0', into, from, to, gain);
  };
  state.forEach((node, k) => {
    o.put(o.name('C_', `${e.id} ${k}`), node, '0', 1 / rate, `IC=${number(begins(`${e.id}.${k}`))}`);
    o.put(o.name('R_', `${e.id} ${k}`), node, '0', OPEN);
    if (k + 1 < state.length) drive(`${k}`, node, state[k + 1]!, '0', 1);
    else {
      drive(`${k} in`, node, plus, minus, 1);
      feedback.forEach((f, i) => drive(`${k} back ${i}`, node, state[i]!, '0', -f));
    }
  });
  o.put(o.name('R_', `${e.id} sum`), sum, '0', 1);
  c.forEach((v, k) => drive(`out ${k}`, sum, state[k]!, '0', v));
  drive('through', sum, plus, minus, d);
  if (e.low !== undefined || e.high !== undefined) o.notes.add(`${e.id} does not clip`);
  o.put(o.name('E_', e.id), a, b, sum, '0', 1);
}

/** The gates of a modulator that compares a carrier with its control: by the node that each stands on. */
function compared(o: Writer, m: Extract<Modulator, { kind: 'pwm' }>): [string, string][] {
  const { period: T, low, high, phase, delay, deadTime } = m;
  const [saw, on] = [o.node(`${m.id} carrier`), o.node(`${m.id} compared`)];
  o.put(o.name('V_', `${m.id} carrier`), saw, '0', `PULSE(${[low, high, phase * T, T * (1 - BACK), T * BACK, 0, T].map(number).join(' ')})`);
  o.put(o.name('B_', `${m.id} compared`), on, '0', `V=u(V(${o.node(m.control[0])},${o.node(m.control[1])})-V(${saw}))`);
  const later = (name: string, from: string, by: number): string => {
    if (!(by > 0)) return from;
    const node = o.node(`${m.id} ${name}`);
    o.put(o.name('T_', `${m.id} ${name}`), from, '0', node, '0', 'Z0=1', `TD=${number(by)}`);
    o.put(o.name('R_', `${m.id} ${name}`), node, '0', 1);
    return node;
  };
  const late = later('delayed', on, delay);
  const dead = m.complement === undefined ? late : later('after dead time', late, deadTime);
  const gate = (id: string, is: (node: string) => string): [string, string] => {
    const node = o.node(`gate ${id}`);
    o.put(o.name('B_', `gate ${id}`), node, '0', `V=${[...new Set([late, dead])].map(is).join('*')}`);
    return [id, node];
  };
  return [gate(m.gate, (n) => `u(V(${n})-0.5)`), ...(m.complement === undefined ? [] : [gate(m.complement, (n) => `(1-u(V(${n})-0.5))`)])];
}

/** A gate that is on between two moments of the settled cycle. */
function driven(o: Writer, id: string, { intervals, period: T }: Pick<SettledCycle, 'intervals' | 'period'>): Result<string> {
  const zero = intervals[0]!.start;
  const edges: { t: number; on: boolean }[] = [];
  let before = intervals.at(-1)!.pattern.on.has(id);
  for (const s of intervals) {
    const on = s.pattern.on.has(id);
    if (on !== before) edges.push({ t: s.start - zero, on });
    before = on;
  }
  const node = o.node(`gate ${id}`);
  if (edges.length === 0) o.put(o.name('V_', `gate ${id}`), node, '0', `DC ${before ? 1 : 0}`);
  else if (edges.length > 2) return fail('netlist', id, `its gate switches ${edges.length} times in a cycle`, 'choose a point at which it switches once a period');
  else {
    // Halfway up an edge the switch turns; what turns as the cycle begins does so at its end.
    const [a, b] = edges as [{ t: number; on: boolean }, { t: number; on: boolean }];
    const [first, second] = a.t < EDGE / 2 ? [b, { ...a, t: a.t + T }] : [a, b];
    o.put(o.name('V_', `gate ${id}`), node, '0', `PULSE(${[first.on ? 0 : 1, first.on ? 1 : 0, first.t - EDGE / 2, EDGE, EDGE, second.t - first.t - EDGE, T].map(number).join(' ')})`);
  }
  return ok(node);
}

/** Has a modulator a comparison that such a file can say? */
const says = (m: Modulator): m is Extract<Modulator, { kind: 'pwm' }> => m.kind === 'pwm' && m.carrier === 'trailing' && m.sampling === 'natural' && !m.enable;

/**
 * The netlist of a circuit that stands on its settled cycle.
 * @param title its first line
 * @param said further lines about it, put as comments
 * @returns the text; problem "netlist" names the element that has no line in such a file
 */
export function netlistOf(circuit: Circuit, cycle: Pick<SettledCycle, 'intervals' | 'period' | 'states'>, column: (name: string) => number | undefined, title: string, said: readonly string[] = []): Result<string> {
  const named = naming();
  const nodes = naming();
  const z0 = cycle.intervals[0]!.z0;
  const o: Writer = { lines: [], models: [], notes: new Set(), node: (name) => (name === '0' ? '0' : nodes('', name)), name: named, put: (...cells) => void o.lines.push(cells.map((c) => (typeof c === 'number' ? number(c) : c)).join(' ')) };
  // The circuit's own nodes keep their names; what is between comes after.
  for (const e of circuit.elements) if ('a' in e) for (const n of [e.a, e.b]) o.node(n);
  const begins: Begins = (name) => {
    const c = column(name);
    return c === undefined ? 0 : z0[c]!;
  };
  const samples = circuit.elements.some((e) => e.kind === 'sampled' || e.kind === 'sampled-control' || e.kind === 'comparator');
  const byTime = circuit.modulators.filter((m) => samples || !says(m)).flatMap(gatesOf);
  const own = new Map<string, string>();
  for (const m of circuit.modulators) if (says(m) && !samples) for (const [gate, node] of compared(o, m)) own.set(gate, node);
  const byOwn = (id: string): string | undefined => own.get((circuit.elements.find((e) => e.id === id) as ElementOf<'switch'>).gate);
  const sensed = new Set(circuit.elements.flatMap((e) => (e.kind === 'current-sense' ? [e.of] : [])));
  const lead: SensedNode = (id) => (sensed.has(id) ? o.node(`${id} lead`) : undefined);
  for (const e of circuit.elements) {
    // What only computes is left out where gates are driven: nothing of the power stage goes by it.
    if (samples && (e.kind === 'sampled' || e.kind === 'sampled-control' || e.kind === 'comparator')) continue;
    // With gates driven by time the loop is open, and an integrator in it would drift: it stands where it stood.
    if (byTime.length > 0 && e.kind === 'transfer') {
      o.put(o.name('V_', e.id), o.node(e.a), o.node(e.b), `DC ${number(outputOf(e, cycle.intervals[0]!))}`);
      o.notes.add(`${e.id} is held where it stands`);
      continue;
    }
    if (sensed.has(e.id) && 'a' in e) o.put(o.name('V_', `${e.id} current`), o.node(e.a), lead(e.id)!, 'DC 0');
    let gate = '';
    if (e.kind === 'switch') {
      const node = byOwn(e.id);
      const found = node === undefined ? driven(o, e.id, cycle) : ok(node);
      if (!found.ok) return found;
      gate = found.value;
    }
    const put = element(o, e, () => gate, begins, lead);
    if (!put.ok) return put;
  }
  if (samples) o.notes.add('what samples is not there');
  if (byTime.length > 0) o.notes.add(`gates ${byTime.join(', ')} are driven at the moments of the settled cycle`);
  const T = cycle.period;
  return ok([
    `* ${plain(title)}`,
    ...said.map((s) => `* ${plain(s)}`),
    ...[...o.notes].map((n) => `* otherwise than in the design: ${plain(n)}`),
    ...o.lines,
    ...o.models,
    `.tran ${number(T / STEPS)} ${number(PERIODS * T)} 0 ${number(T / STEPS)} uic`,
    '.end',
    '',
  ].join('\n'));
}

/** What a transfer function puts out as an interval begins. */
const outputOf = (e: ElementOf<'transfer'>, { pattern, z0 }: SettledCycle['intervals'][number]): number => pattern.voltage(e.a, e.b).reduce((sum, v, k) => sum + v * z0[k]!, 0);

const plain = (text: string): string => text.replace(/[\r\n]+/g, ' ');
