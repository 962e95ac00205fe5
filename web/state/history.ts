import { applyPatch, createPatch, type Operation } from 'rfc6902';
import type { Snapshot, StoredDesign } from './storage';

/** A state of the history as the change that leads to it from the state beside it, nearer to the present (JSON Patch, RFC 6902). */
type Change = Operation[];

/** A design as it is stored: its history as changes. Older records hold whole states there. */
export type PackedDesign = Omit<StoredDesign, 'past' | 'future'> & { past: (Change | Snapshot)[]; future: (Change | Snapshot)[] };

/** Changes that were worked out already: a history grows by one at a time */
const known = new WeakMap<Snapshot, { from: Snapshot; change: Change }>();

const isNumbers = (x: unknown): x is number[] => Array.isArray(x) && x.length > 0 && typeof x[0] === 'number';

/** Lists of numbers (captures, responses) are the same or another: which of thousands moved where is nobody's question, and takes for ever to answer. */
const lists = (input: unknown, output: unknown, pointer: { toString(): string }): Operation[] | undefined => {
  if (!isNumbers(input) || !isNumbers(output)) return undefined;
  const same = input.length === output.length && input.every((v, i) => Object.is(v, output[i]));
  return same ? [] : [{ op: 'replace', path: pointer.toString(), value: output }];
};

function changeTo(state: Snapshot, from: Snapshot): Change {
  const found = known.get(state);
  if (found && found.from.design === from.design && found.from.kept === from.kept) return found.change;
  const change = createPatch(from, state, lists);
  known.set(state, { from, change });
  return change;
}

/** A list of states, the one nearest to the present last, as changes. */
const packed = (states: readonly Snapshot[], present: Snapshot): Change[] => states.map((s, k) => changeTo(s, states[k + 1] ?? present));

/** The same with nothing in it twice: a kept design and the one in work may be one object, which a change of one would change for both. */
const apart = <T>(x: T): T => JSON.parse(JSON.stringify(x)) as T;

/** The states that changes lead to; a change that does not fit ends them, and what lies behind it is lost. */
function unpacked(list: readonly (Change | Snapshot)[], present: Snapshot): Snapshot[] {
  const found: Snapshot[] = [];
  let beside = present;
  for (const entry of [...list].reverse()) {
    if (!Array.isArray(entry)) {
      // A whole state, of an older record.
      found.push((beside = entry));
      continue;
    }
    const state = apart(beside);
    if (applyPatch(state, apart(entry)).some((error) => error !== null)) break;
    known.set(state, { from: beside, change: entry });
    found.push((beside = state));
  }
  return found.reverse();
}

const presentOf = ({ design, kept }: Snapshot): Snapshot => ({ design, kept });

/** A design as it goes to the store and to other tabs. */
export const pack = (d: StoredDesign): PackedDesign => ({ ...d, past: packed(d.past, presentOf(d)), future: packed(d.future, presentOf(d)) });

/** The design that a record holds, with its history; lists that are none are empty. */
export const unpack = (d: PackedDesign): StoredDesign => {
  const list = (x: unknown): (Change | Snapshot)[] => (Array.isArray(x) ? (x as (Change | Snapshot)[]).filter((e) => typeof e === 'object' && e !== null) : []);
  return { ...d, past: unpacked(list(d.past), presentOf(d)), future: unpacked(list(d.future), presentOf(d)) };
};
