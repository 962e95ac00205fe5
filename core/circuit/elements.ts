/**
 * A circuit is a list of elements between named nodes, as plain data. Node "0" is the reference.
 * Currents flow from node a to node b through an element; voltages are a minus b.
 */
export interface Resistor {
  kind: 'resistor';
  id: string;
  a: string;
  b: string;
  /** Ω, above zero */
  resistance: number;
}

export interface Inductor {
  kind: 'inductor';
  id: string;
  a: string;
  b: string;
  /** H, above zero */
  inductance: number;
}

export interface Capacitor {
  kind: 'capacitor';
  id: string;
  a: string;
  b: string;
  /** F, above zero */
  capacitance: number;
  /** Equivalent series resistance in Ω, zero or above */
  esr: number;
}

export interface VoltageSource {
  kind: 'voltage-source';
  id: string;
  a: string;
  b: string;
  /** V, constant */
  value: number;
}

export interface CurrentSource {
  kind: 'current-source';
  id: string;
  a: string;
  b: string;
  /** A from a to b through the source, constant */
  value: number;
}

/** A gated switch: two finite resistances, chosen by its gate. */
export interface Switch {
  kind: 'switch';
  id: string;
  a: string;
  b: string;
  /** Ω while on, above zero */
  onResistance: number;
  /** S while off, zero or above */
  offConductance: number;
}

export type Element = Resistor | Inductor | Capacitor | VoltageSource | CurrentSource | Switch;

export interface Circuit {
  elements: readonly Element[];
}

export const REFERENCE = '0';
