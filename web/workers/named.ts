import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import { forFigures } from '../../core/design';
import { KIND, type Design } from '../../core/design/schema';
import type { Wire } from './engine.worker';
import type { Engine } from './functions';

/** A text by its hash (SHA-256, FIPS 180-4). */
export const hashOf = (text: string): string => bytesToHex(sha256(utf8ToBytes(text)));

const names = new WeakMap<Design, string>();

/** A design by the hash of what it says; what it is run through, and which traces of that are looked at, change none of its figures. */
export function nameOf(d: Design): string {
  let name = names.get(d);
  if (name === undefined) names.set(d, (name = hashOf(forFigures(d))));
  return name;
}

export const isDesign = (x: unknown): x is Design => typeof x === 'object' && x !== null && (x as { kind?: unknown }).kind === KIND;

/** What a worker answers when it does not know a design by that name (any more). */
export const UNKNOWN = 'a design of that name is not known';

/** The engine at the other end of a wire: a design is sent once and then named, so that the worker finds again what it remembers of it. */
export function overWire(wire: { [M in keyof Wire]: (...args: Parameters<Wire[M]>) => Promise<unknown> }): Engine {
  const sent = new Set<string>();
  async function ask(method: string, args: unknown[]): Promise<unknown> {
    const [first, ...rest] = args;
    if (!isDesign(first)) return wire.ask(method, args);
    const name = nameOf(first);
    const found = await wire.askOf(method, name, sent.has(name) ? undefined : first, rest);
    sent.add(name);
    return found === UNKNOWN ? wire.askOf(method, name, first, rest) : found;
  }
  return new Proxy({} as Engine, { get: (_, method) => (method === 'then' ? undefined : (...args: unknown[]) => ask(String(method), args)) });
}
