import type { Circuit } from '../circuit/elements';
import { nodesOf } from '../circuit/layout';
import type { Problem } from '../problem';
import { quoted } from '../quantity';
import { injectionPointAt } from '../response/injectionPoint';
import type { FileRoles } from './roles';

/** The first thing that roles name and a circuit does not have; undefined where all is there. Problems "unknown" and "place". */
export function missingIn(circuit: Circuit, roles: FileRoles): Problem | undefined {
  const ids = new Set(circuit.elements.flatMap((e) => ('a' in e ? [e.id] : [])));
  const nodes = nodesOf(circuit);
  const unknown = (where: string, what: string, name: string, of: Iterable<string>): Problem => ({ code: 'unknown', where, message: `the circuit has no ${what} ${quoted(name)}`, remedy: `name one of ${[...of].slice(0, 12).join(', ')}` });
  const element = (where: string, ...names: (string | undefined)[]): Problem | undefined => {
    const name = names.find((n) => n !== undefined && !ids.has(n));
    return name === undefined ? undefined : unknown(where, 'element with two ends', name, ids);
  };
  const sources = circuit.elements.filter((e) => e.kind === 'voltage-source').map((e) => e.id);
  if (!sources.includes(roles.line)) return unknown('roles.line', 'voltage source', roles.line, sources);
  for (const [k, o] of roles.outputs.entries()) {
    const node = o.nodes.find((n) => n !== '0' && !nodes.has(n));
    if (node !== undefined) return unknown(`roles.outputs.${k}.nodes`, 'node', node, nodes.keys());
    const found = element(`roles.outputs.${k}`, ...o.loads, o.step);
    if (found) return found;
  }
  for (const [slot, p] of Object.entries(roles.parts)) {
    const found = element(`roles.parts.${slot}`, ...p.elements, p.beside, p.leg, p.body, ...[p.across ?? []].flat(), p.slow, ...(p.copper ?? []).map((c) => c.element));
    if (found) return found;
    if (p.elements.length === 0 && p.beside === undefined && p.leg === undefined) return { code: 'value', where: `roles.parts.${slot}`, message: 'nothing of the circuit stands for it', remedy: 'name an element, or the source that it stands beside' };
  }
  const devices = circuit.elements.flatMap((e) => (e.kind === 'switch' || e.kind === 'diode' ? [e.id] : []));
  const device = roles.conduction?.through.flat().find((d) => !devices.includes(d));
  if (device !== undefined) return unknown('roles.conduction', 'switch or diode', device, devices);
  for (const [k, l] of roles.loops.entries()) {
    const place = injectionPointAt(circuit, l.source);
    if (!place.ok) return { ...place.problem, where: `roles.loops.${k}.source` };
  }
  return undefined;
}
