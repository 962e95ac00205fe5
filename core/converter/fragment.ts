import type { Element } from '../circuit/elements';
import type { CapacitorPart, DiodePart, Part, SwitchPart } from '../parts/schema';
import type { PartRole, Roles } from './roles';

/** S of what is open: a microampere at a hundred volts */
export const OFF_CONDUCTANCE = 1e-8;

/** Shorter than this share of the period, nothing rests: one device hands over to another */
const MOMENT = 1e-5;

/** What a fragment is built of: the part in each slot, the value taken for it, and its resistance as warm as it is. */
export interface Site {
  parts: Readonly<Record<string, Part>>;
  values: Readonly<Record<string, { taken: number }>>;
  /** Ω of the part in a slot; of a transformer: of a turn that fills the window */
  resistance(slot: string): number;
}

/** How gates are to be driven; what drives them is the control's choice (its modulator). */
export type Timing =
  /** On for the duty, from `phase` of the period on */
  | { id: string; kind: 'duty'; gate: string; complement?: string; phase: number; enable?: readonly [string, string] }
  /** Always on, its partner always off */
  | { id: string; kind: 'held'; gate: string; complement: string }
  /** Two legs, the second later by the duty of half a period */
  | { id: string; kind: 'phase-shift'; gates: readonly [string, string, string, string] };

/** A winding of a transformer, to be built: its copper, the value that gives its turns, and its share of the window. */
export interface Winding {
  /** The resistor of the circuit that stands for its copper; its current is that of the winding */
  element: string;
  /** The sized value that gives its turns */
  turns: string;
  /** Share of the window that it takes */
  share: number;
}

/** Ω of a winding, from what a turn that fills the window would have. */
export const windingOhms = (turnResistance: number, turns: number, share: number): number => (turnResistance * turns ** 2) / share;

/** Ω of the capacitors of a slot together. */
export const esrOf = (part: CapacitorPart, taken: number): number => (part.esr * part.capacitance) / taken;

/** A part of a circuit under construction, with the roles of what is in it. */
export type Fragment = ReturnType<typeof fragment>;

/**
 * An empty fragment. Each of its functions puts the part of a slot between nodes, with the values that the site has for
 * it, and notes what the element stands for. `id` where it is not the slot's: the second of several alike.
 */
export function fragment({ parts, values, resistance }: Site) {
  const elements: Element[] = [];
  const timings: Timing[] = [];
  const roles: Record<string, PartRole> = {};
  const outputs: Roles['outputs'] = [];
  let through: Roles['conduction']['through'] | undefined;
  let longer = MOMENT;
  let smoothedByLoad = false;
  let constant = false;
  let mains: Roles['mains'];
  const front: string[] = [];
  let feeds: string | undefined;
  const stands = (slot: string, id: string): PartRole => {
    const role = (roles[slot] ??= { elements: [] });
    role.elements.push(id);
    return role;
  };
  const resistor = (id: string, a: string, b: string, ohms: number): void => void elements.push({ kind: 'resistor', id, a, b, resistance: ohms });

  return {
    elements,
    timings,
    outputs,
    /** An element that stands for no part. */
    put: (...list: Element[]): void => void elements.push(...list),
    resistor,
    switch(slot: string, a: string, b: string, gate: string, id = slot): void {
      stands(slot, id);
      elements.push({ kind: 'switch', id, a, b, onResistance: resistance(slot), offConductance: OFF_CONDUCTANCE, gate });
    },
    /** The body diode of the switch `id`, where currents run through it while its gate is off. */
    body(slot: string, a: string, b: string, id = slot): void {
      roles[slot]!.body ??= `${id} body`;
      elements.push({ kind: 'diode', id: `${id} body`, a, b, drop: (parts[slot] as SwitchPart).bodyDiodeDrop, onResistance: resistance(slot), offConductance: OFF_CONDUCTANCE });
    },
    diode(slot: string, a: string, b: string, id = slot): void {
      stands(slot, id);
      elements.push({ kind: 'diode', id, a, b, drop: (parts[slot] as DiodePart).drop, onResistance: resistance(slot), offConductance: OFF_CONDUCTANCE });
    },
    /** With the resistance of its winding behind it; `core` where it is wound on that of another slot. */
    inductor(slot: string, a: string, b: string, { id = slot, core }: { id?: string; core?: PartRole['core'] } = {}): void {
      const role = stands(slot, id);
      role.copper ??= [{ element: `${id} winding`, title: 'winding' }];
      if (core) role.core = core;
      elements.push({ kind: 'inductor', id, a, b: `${id} wound`, inductance: values[slot]!.taken });
      resistor(`${id} winding`, `${id} wound`, b, resistance(slot));
    },
    /** `series`: Ω in series with it beside its own; `across`: Ω of a resistor beside it. Their losses count as its own. */
    capacitor(slot: string, a: string, b: string, { id = slot, series = 0, across }: { id?: string; series?: number; across?: { id: string; ohms: number } } = {}): void {
      const role = stands(slot, id);
      const { taken } = values[slot]!;
      elements.push({ kind: 'capacitor', id, a, b, capacitance: taken, esr: esrOf(parts[slot] as CapacitorPart, taken) + series });
      if (!across) return;
      role.across = across.id;
      resistor(across.id, a, b, across.ohms);
    },
    /** The part in a slot that is not in the circuit, and what it carries instead. */
    aside(slot: string, what: Pick<PartRole, 'beside' | 'leg'>): void {
      roles[slot] = { elements: [], ...what };
    },
    /** Capacitors that stood aside beside a source are in the circuit after all: that source is not stiff. */
    intoCircuit(source: string, a: string, b: string): void {
      for (const [slot, role] of Object.entries(roles)) {
        if (role.beside !== source) continue;
        delete role.beside;
        role.elements.push(slot);
        const { taken } = values[slot]!;
        elements.push({ kind: 'capacitor', id: slot, a, b, capacitance: taken, esr: esrOf(parts[slot] as CapacitorPart, taken) });
      }
    },
    /** Elements that stand between the line and the converter. */
    inFront: (list: readonly Element[]): void => void front.push(...list.map((e) => e.id)),
    /** The source of 0 V that leads from the line, or from what stands in front, into the converter. */
    fedThrough(id: string, from: string, to: string): void {
      feeds = id;
      elements.push({ kind: 'voltage-source', id, a: from, b: to, value: 0 });
    },
    /** Fed from the rectified mains: what is drawn in step with it, the slot that holds what beats, and that of two switches which change what they do with each half cycle. */
    inStep(current: string, reservoir: string, alternates?: string): void {
      mains = { current, reservoir, ...(alternates === undefined ? {} : { alternates }) };
    },
    /** The slow current of a capacitor. */
    slow(slot: string, element: string): void {
      roles[slot]!.slow = element;
    },
    /** The magnetising inductance of a transformer, with what damps it. */
    core(slot: string, a: string, b: string, damping: number): void {
      stands(slot, slot);
      elements.push({ kind: 'inductor', id: slot, a, b, inductance: values[slot]!.taken });
      resistor(`${slot} core damping`, a, b, damping);
    },
    leakage(slot: string, a: string, b: string, inductance: number, damping: number): void {
      elements.push({ kind: 'inductor', id: `${slot} leakage`, a, b, inductance });
      resistor(`${slot} leakage damping`, a, b, damping);
    },
    /** The copper of a winding; the first is that of the primary. */
    copper(slot: string, w: Winding, a: string, b: string): void {
      (roles[slot]!.copper ??= []).push({ element: w.element, title: w.element.replace(`${slot} `, '') });
      resistor(w.element, a, b, windingOhms(resistance(slot), values[w.turns]!.taken, w.share));
    },
    /** The ideal transformer, by the values that give its turns. */
    turns(slot: string, windings: readonly (readonly [a: string, b: string, turns: string])[]): void {
      elements.push({ kind: 'transformer', id: `${slot} turns`, windings: windings.map(([a, b, turns]) => ({ a, b, turns: values[turns]!.taken })) });
    },
    /** The first element that stands for the part in a slot. */
    standsFor: (slot: string): string => roles[slot]!.elements[0]!,
    /** Nodes of an output; the regulated one first. */
    output(plus: string, minus: string): void {
      outputs.push({ nodes: [plus, minus], loads: [] });
    },
    /** Resistors whose loss counts as that of a slot's part. */
    burnsFor(slot: string, ...ids: string[]): void {
      roles[slot]!.across = ids;
    },
    /** What hangs on the first output takes the same current whatever its voltage. */
    constantLoad: (): void => void (constant = true),
    isConstantLoad: (): boolean => constant,
    /** The current of the first output runs through the inductance of the load: the stage has no filter of its own. */
    smoothedByLoad: (): void => void (smoothedByLoad = true),
    isSmoothedByLoad: (): boolean => smoothedByLoad,
    duty(gate: string, complement?: string, { id = 'modulator', phase = 0 } = {}): void {
      timings.push({ id, kind: 'duty', gate, ...(complement === undefined ? {} : { complement }), phase });
    },
    held: (gate: string, complement: string): void => void timings.push({ id: `holds ${gate}`, kind: 'held', gate, complement }),
    shifted: (gates: readonly [string, string, string, string]): void => void timings.push({ id: 'modulator', kind: 'phase-shift', gates }),
    /** While none of these conducts, the inductor rests; every switch and diode there is by then, when not called. */
    conducts(...devices: Roles['conduction']['through']): void {
      through = devices;
    },
    /** Rests are longer than this share of the period: less is a snubber being charged. */
    restsLonger(share: number): void {
      longer = share;
    },
    /** The devices of the stage are all there: what is hung on from now on does not tell how its inductor rests. */
    whole(): void {
      through ??= elements.flatMap((e) => (e.kind === 'switch' || e.kind === 'diode' ? [e.id] : []));
    },
    roles: (line: string): Roles => ({ line, outputs, parts: roles, conduction: { through: through!, longer }, ...(mains ? { mains } : {}), ...(feeds !== undefined ? { front: { elements: front, feeds } } : {}) }),
  };
}
