import type { Element } from '../../core/circuit/elements';
import type { Converter } from '../../core/converter/converter';
import { valuesOf } from '../../core/interchange/circuitEdit';
import { printTyped } from '../../core/quantity';

/** "voltage source" of "voltage-source" */
export const kindOf = (e: Element): string => e.kind.replace(/-/g, ' ');

/** The first value of an element, as it is written beside it. */
export function valueIn(e: Element): string {
  // An amplifier is told by no one figure.
  const [first] = e.kind === 'op-amp' ? [] : valuesOf(e);
  return first ? printTyped(first.value, first.unit) : '';
}

/** Where an element stands: its nodes, or what it joins. */
export function placeOf(e: Element): string {
  if ('a' in e) return `${e.a} – ${e.b}`;
  if (e.kind === 'coupling') return e.inductors.join(', ');
  return e.kind === 'transformer' ? e.windings.map((w) => `${w.a} – ${w.b}`).join(', ') : Object.keys(e.outputs).join(', ');
}

/** What the roles say of an element, in words. */
export function rolesOf({ roles }: Converter, id: string): string[] {
  const said: string[] = roles.line === id ? ['the line'] : [];
  for (const o of roles.outputs) {
    if (o.loads.includes(id)) said.push('load of the output');
    if (o.step === id) said.push('steps the load');
  }
  for (const [slot, p] of Object.entries(roles.parts)) {
    if (p.elements.includes(id)) said.push(`stands for ${slot}`);
    if (p.copper?.some((c) => c.element === id)) said.push(`winding of ${slot}`);
    if (p.body === id) said.push(`body diode of ${slot}`);
    if (p.across === id) said.push(`across ${slot}`);
  }
  return [...said, ...loopsAt({ roles }, id).map((title) => `loop “${title}” can be broken here`)];
}

/** Titles of the loops that can be broken at an element. */
export const loopsAt = ({ roles }: Pick<Converter, 'roles'>, id: string): string[] => roles.loops.filter((l) => l.source === id).map((l) => l.title);
