import type { Circuit, Element } from '../circuit/elements';
import type { Part } from '../parts/schema';
import type { Roles } from '../converter/roles';
import { fail, ok, type Result } from '../problem';
import type { Failure } from '../surroundings/schedule';

/** Ω of a part that is open, and of one that is a short */
const [OPEN, SHORT] = [1e7, 1e-3];

/** What fails where the loop no longer sees what it holds: what it is fed back reads nothing */
export const FEEDBACK = 'feedback';

/** A closed circuit whose feedback has come off. */
export const unfed = (c: Circuit): Circuit => ({ ...c, elements: c.elements.map((e) => (e.id === 'sense' && 'gain' in e ? { ...e, gain: 0 } : e)) });

/**
 * The elements of a converter in which a part has failed: where it was stands a resistance, or one beside it where it leaks.
 * Of several alike it is the first.
 * @returns problem "value" where no such part can fail so
 */
export function failing(elements: readonly Element[], roles: Pick<Roles, 'parts'>, { part, how, resistance }: Failure): Result<Element[]> {
  const where = `part ${part}`;
  const role = roles.parts[part];
  const id = role?.elements[0];
  const own = elements.find((e) => e.id === id);
  if (!own || !('a' in own)) return fail('value', where, 'there is no such part in the circuit that can fail by itself', `give one of ${Object.entries(roles.parts).flatMap(([slot, r]) => (elements.some((e) => e.id === r.elements[0] && 'a' in e) ? [slot] : [])).join(', ')}`);
  const { a, b } = own;
  if (how === 'leaky') return ok([...elements, { kind: 'resistor', id: `${id} leaks`, a, b, resistance }]);
  if (how === 'open' && own.kind === 'inductor') return fail('value', where, 'an inductor that opens leaves its current nowhere to go', 'let it leak, or a switch beside it open');
  const stands: Element = { kind: 'resistor', id: id!, a, b, resistance: how === 'open' ? OPEN : SHORT };
  // A switch that opens takes its body diode with it; one that shorts has it bridged.
  return ok(elements.flatMap((e) => (e.id === id ? [stands] : how === 'open' && e.id === (role!.body ?? `${id} body`) ? [] : [e])));
}

/** S of a body diode that blocks */
const BLOCKS = 1e-7;

/**
 * The elements of a converter with a body diode across every switch that has none of its own. Where gates always take turns no
 * current runs through it and it is left out; where they are let go, or a switch fails, it is all that coils have left. It
 * conducts against the voltage that the switch blocks.
 * @param blocked V between two nodes on the settled cycle, mean
 */
export function withBodies(elements: readonly Element[], roles: Pick<Roles, 'parts'>, parts: Readonly<Record<string, Part>>, blocked: (a: string, b: string) => number): Element[] {
  const bodies = Object.entries(roles.parts).flatMap(([slot, role]) => {
    const part = parts[slot];
    if (part?.kind !== 'switch' || role.body !== undefined) return [];
    return role.elements.flatMap((id): Element[] => {
      const own = elements.find((e) => e.id === id);
      if (own?.kind !== 'switch') return [];
      const [from, to] = blocked(own.a, own.b) >= 0 ? [own.b, own.a] : [own.a, own.b];
      return [{ kind: 'diode', id: `${id} body`, a: from, b: to, drop: part.bodyDiodeDrop, onResistance: own.onResistance, offConductance: BLOCKS }];
    });
  });
  return [...elements, ...bodies];
}
