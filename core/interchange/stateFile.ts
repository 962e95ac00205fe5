import { z } from 'zod';
import type { Machine, State } from '../circuit/machine';
import { fail, ok, type Result } from '../problem';
import { parseJson } from '../quantity/json';

/** The state a run ended in, as text: what a later run goes on from. */
const KIND = 'jump-reed state';
const LONGEST = 20_000_000;

/** Times that never come are Infinity, which JSON has no number for. */
const number = z.union([z.number(), z.literal('never').transform(() => Infinity)]);
const File = z.strictObject({
  kind: z.literal(KIND),
  version: z.literal(1),
  circuit: z.string(),
  /** Names of z, of the devices and of the event sources: they have to be those of the circuit */
  columns: z.array(z.string()),
  devices: z.array(z.string()),
  eventSources: z.array(z.string()),
  t: z.number(),
  z: z.array(z.number()),
  segments: z.array(z.number().int().min(0).max(65_535)),
  memory: z.array(z.array(number)),
  gates: z.record(z.string(), z.boolean()),
  pending: z.array(z.union([z.strictObject({ time: z.number(), cause: z.number().int(), gate: z.string(), on: z.boolean() }), z.strictObject({ time: z.number(), cause: z.number().int(), wake: z.number().int().nonnegative() })])),
});

const same = (a: readonly string[], b: readonly string[]): boolean => a.length === b.length && a.every((v, i) => v === b[i]);
const names = (m: Machine): { columns: string[]; devices: string[]; eventSources: string[] } => ({ columns: [...m.layout.column.keys()], devices: m.devices.map((d) => d.id), eventSources: m.eventSources.map((a) => a.id) });

/** A state as the text of a file. */
export function writeState(m: Machine, s: State): string {
  const memory = s.memory.map((list) => list.map((v) => (v === Infinity ? 'never' : v)));
  const pending = s.pending.map(({ cause, ...p }) => ({ ...p, cause: cause >= 0 ? -2 : cause }));
  return JSON.stringify({ kind: KIND, version: 1, circuit: m.circuit.name, ...names(m), t: s.t, z: [...s.z], segments: [...s.segments], memory, gates: s.gates, pending });
}

/** Read a state back for a machine; problem "state" when it belongs to another circuit or is no state at all. */
export function readState(m: Machine, text: string): Result<State> {
  const raw = parseJson(text, LONGEST, 'a file that a run has kept');
  if (!raw.ok) return raw;
  const read = File.safeParse(raw.value);
  if (!read.success) return fail('state', read.error.issues[0]!.path.join('.'), 'the file is no state of a run', 'choose a file that a run has kept');
  const f = read.data;
  const own = names(m);
  if (!same(f.columns, own.columns) || !same(f.devices, own.devices) || !same(f.eventSources, own.eventSources) || f.z.length !== own.columns.length || f.segments.length !== own.devices.length || f.memory.length !== own.eventSources.length)
    return fail('state', '', `the state is of another circuit${f.circuit ? ` (${f.circuit})` : ''}`, 'take one that this circuit has left');
  return ok({ t: f.t, z: Float64Array.from(f.z), segments: Uint16Array.from(f.segments), memory: f.memory, gates: f.gates, pending: f.pending });
}
