import { AMPLIFIERS, amplifierNamed, innerKey, STRUCTURES, structureNamed } from '../control';
import { controllable } from '../topology/common';
import type { Part, PartKind } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { refusal, topologyNamed, TOPOLOGIES } from '../topology';
import { hangs } from '../branches';
import { topologyOf } from '../design/topologyOf';
import { editDesign } from '../design/edit';
import type { Design } from '../design/schema';
import { methodChanges, paceFor } from './method';
import { best, region } from './suggest';
import { PLAIN } from './wishes';
import { askedSpec, forUse } from '../design/sizingInput';

/**
 * The design with another topology: what the engineer has chosen stays where the place is of the same kind and
 * the part still fits; every other place takes the best of the shelf. The crossover comes down below what the
 * topology allows, and hand-set corners of the compensator are placed anew.
 * Problems "unknown", "impossible" (the topology can not serve the brief), "shelf" (nothing fits a place).
 */
export function chooseTopology(d: Design, id: string, shelf: readonly Part[], wishes = PLAIN): Result<Design> {
  const named = topologyNamed(id);
  if (!named) return fail('unknown', 'topology', `"${id}" is not a topology here`, `choose ${TOPOLOGIES.map((x) => x.id).join(', ')}`);
  const hung = Object.entries(d.branches ?? {}).filter(([, b]) => hangs(named, b));
  const branches = hung.length > 0 ? Object.fromEntries(hung) : undefined;
  const t = topologyOf({ topology: id, branches })!;
  const refused = refusal(t, d.brief);
  if (refused) return { ok: false, problem: refused };
  // A way of control that it can not have gives way to the first that it can.
  const method = structureNamed(d.control.method)!.refuses?.(controllable(t)) ? STRUCTURES.find((s) => !s.refuses?.(controllable(t)))!.id : d.control.method;
  const asked = { ...askedSpec(d), control: { ...d.control, method } };
  const base = { ...asked, allowed: { ...asked.allowed, ripple: asked.allowed.ripple * wishes.ripple, deviation: asked.allowed.deviation * wishes.deviation } };
  const first = (kind: PartKind): Part | undefined => shelf.filter((p) => p.kind === kind).reduce<Part | undefined>((a, b) => (a && burden(a) <= burden(b) ? a : b), undefined);
  const parts: Record<string, Part> = {};
  const open = new Set<string>();
  for (const p of t.slots) {
    const own = d.parts[p.id];
    // An inductance set by hand was for the other way of drawing from the mains.
    if (own?.kind === p.kind) parts[p.id] = 'inductance' in own && paceFor(d, method) !== undefined ? { ...own, inductance: null } : own;
    else {
      const any = first(p.kind);
      if (!any) return fail('shelf', `parts.${p.id}`, `the shelf has no ${p.kind}`, 'add one');
      parts[p.id] = any;
      open.add(p.id);
    }
  }
  // Up to three times: what fits one place depends a little on what stands in the others, and on how fast the loop may be.
  const pace = paceFor(d, method) ?? d.control.crossover;
  let crossover = pace;
  let before = '';
  for (let round = 0; round < 3; round++) {
    for (const { id: slot, title, core } of t.slots) {
      const input = forUse(t, { ...base, parts, crossover });
      const sizing = t.size(input);
      if (core) {
        // A second winding of as many turns on the same core.
        parts[slot] = parts[core.slot]!;
        continue;
      }
      const own = parts[slot]!;
      const kept = open.has(slot) ? undefined : best(t, input, sizing, slot, [own]);
      if (kept) {
        // It stays; but a capacitor whose number is left open takes as many as the currents here want.
        if (own.kind === 'capacitor' && own.count === null) parts[slot] = kept.part;
        continue;
      }
      const taken = best(t, input, sizing, slot, shelf, wishes);
      if (!taken) return fail('shelf', `parts.${slot}`, `no ${title} of the shelf stands what this brief asks of it`, 'add a part, or relax the brief');
      open.add(slot);
      parts[slot] = taken.part;
    }
    const input = forUse(t, { ...base, parts, crossover });
    const sizing = t.size(input);
    crossover = Math.min(pace, d.brief.frequency / 8, ...region(input).map((p) => t.crossoverLimit(input, sizing, p)));
    const now = JSON.stringify([crossover, t.slots.map((p) => parts[p.id])]);
    if (now === before) break;
    before = now;
  }
  // Sized for less than is allowed: what that wants is how many stand there.
  if (wishes.ripple !== 1 || wishes.deviation !== 1) {
    const { values } = t.size(forUse(t, { ...base, parts, crossover }));
    for (const slot of open) {
      const part = parts[slot]!;
      if (part.kind === 'capacitor' && part.count === null) parts[slot] = { ...part, count: Math.min(MOST_COUNT, values[slot]!.suggestedCount!) };
    }
  }
  return editDesign({ ...d, parts: {} }, { topology: id, branches, parts, ...(method === d.control.method ? {} : Object.fromEntries(Object.entries(methodChanges(d, method)).filter(([path]) => path.startsWith('control.')))), 'control.crossover': Number(crossover.toPrecision(2)), ...placedAnew });
}

/**
 * Change what the brief asks for, also where the present topology can not serve it: then the first that can is
 * taken, with parts of the shelf. Where none can, the refusal of the present one.
 * @returns the design, and the title of the topology that was taken for it, if another
 */
export function changeBrief(d: Design, changes: Readonly<Partial<Design['brief']>>, shelf: readonly Part[]): Result<{ design: Design; taken?: string }> {
  const edited = editDesign(d, Object.fromEntries(Object.entries(changes).map(([key, value]) => [`brief.${key}`, value])));
  if (edited.ok) return ok({ design: edited.value });
  const asked: Design = { ...d, brief: { ...d.brief, ...changes } };
  for (const t of TOPOLOGIES) {
    if (t.id === d.topology || refusal(t, asked.brief)) continue;
    const chosen = chooseTopology(asked, t.id, shelf);
    if (chosen.ok) return ok({ design: chosen.value, taken: t.title });
  }
  return edited;
}

/** Corners set by hand go with the plant that they were set for. */
const placedAnew = Object.fromEntries([...AMPLIFIERS.flatMap((a) => a.handles.map((h) => h.key)), ...STRUCTURES.flatMap(({ inner }) => (inner ? ['innerCrossover', 'senseGain', ...amplifierNamed(inner.amplifier)!.handles.map((h) => innerKey(h.key))] : []))].map((key) => [`control.${key}`, null]));

/** What a part adds to what the others carry: one that adds least is a fair guess where none is chosen yet. */
function burden(p: Part): number {
  switch (p.kind) {
    case 'switch':
      return p.onResistance;
    case 'diode':
      return p.drop + 10 * p.slopeResistance;
    case 'inductor':
      return p.resistance;
    case 'capacitor':
      return p.esr;
    case 'transformer':
      return -p.coreVolume;
  }
}

/** As many as a design may hold. */
const MOST_COUNT = 200;
