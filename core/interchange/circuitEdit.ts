import type { Element } from '../circuit/elements';
import { fail, ok, type Result } from '../problem';
import { parseQuantity, quoted, type UnitName } from '../quantity';
import { readConverter, unitOf } from './circuitFile';

/** A value of an element that can be changed where it stands. */
export interface ElementValue {
  field: string;
  unit: UnitName;
  value: number;
}

/** The plain values of an element, with their units. */
export function valuesOf(e: Element): ElementValue[] {
  return Object.entries(e).flatMap(([field, value]) => {
    const unit = typeof value === 'number' ? unitOf(field, e.kind, false) : undefined;
    return unit === undefined ? [] : [{ field, unit, value: value as number }];
  });
}

/**
 * The text of a circuit with roles, with one value of one element changed; all else stays as it was written.
 * @param typed a quantity as it is typed, "22 µF"
 * @returns the text; problems of the quantity, of what the circuit then is, and "unknown"
 */
export function editElement(text: string, id: string, field: string, typed: string): Result<string> {
  const raw = JSON.parse(text) as { elements: { id?: string; kind: string }[] };
  const element = raw.elements.find((e) => e.id === id);
  const unit = element && unitOf(field, element.kind, false);
  if (!element || !unit) return fail('unknown', quoted(`${id}.${field}`), 'the circuit has no such value', 'choose one of the element’s own');
  const read = parseQuantity(typed, unit, `${id}.${field}`);
  if (!read.ok) return read;
  Object.assign(element, { [field]: read.value });
  const changed = JSON.stringify(raw, null, 2) + '\n';
  const sound = readConverter(changed);
  return sound.ok ? ok(changed) : sound;
}
