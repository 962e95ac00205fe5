import { fail, ok, type Result } from '../problem';
import { quoted } from './parse';

/** How deep a file may be nested: far more than any of ours is, far less than a stack holds. */
const DEEPEST = 40;

/** Keys that mean something to the language itself and nothing to a file. */
const RESERVED = new Set(['__proto__', 'constructor', 'prototype']);

/**
 * Parse the text of a JSON file: a byte order mark is passed over; what is nested without end, or has keys that the
 * language keeps for itself, is refused.
 * @param longest characters that such a file may have
 * @param what "a design", for the remedy
 * @returns the value; problems "size", "json", "unknown-field"
 */
export function parseJson(text: string, longest: number, what: string): Result<unknown> {
  if (text.length > longest) return fail('size', '', `the file is far larger than ${what}`, `choose ${what}`);
  const plain = text.replace(/^\uFEFF/, '');
  const deep = depthOf(plain);
  if (deep > DEEPEST) return fail('json', '', `it is nested more than ${DEEPEST} levels deep`, `choose ${what}`);
  let raw: unknown;
  try {
    raw = JSON.parse(plain);
  } catch (error) {
    return fail('json', '', `the file is not JSON (${quoted((error as Error).message)})`, `choose ${what}`);
  }
  const reserved = reservedKey(raw, '');
  return reserved === undefined ? ok(raw) : fail('unknown-field', reserved, 'there is no such field', 'remove it');
}

/** Deepest nesting of brackets outside of strings. */
function depthOf(text: string): number {
  let [depth, most, inside] = [0, 0, false];
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (inside) {
      if (c === 92) i++;
      else if (c === 34) inside = false;
    } else if (c === 34) inside = true;
    else if (c === 91 || c === 123) most = Math.max(most, ++depth);
    else if (c === 93 || c === 125) depth--;
  }
  return most;
}

function reservedKey(value: unknown, path: string): string | undefined {
  if (typeof value !== 'object' || value === null) return undefined;
  for (const key of Object.keys(value)) {
    const at = path === '' ? key : `${path}.${key}`;
    if (RESERVED.has(key)) return quoted(at);
    const found = reservedKey((value as Record<string, unknown>)[key], at);
    if (found !== undefined) return found;
  }
  return undefined;
}
