import { readDesign, type Design } from '../design';
import { fail, ok, type Result } from '../problem';

/**
 * A design in the fragment of an address, which no server sees: its JSON, deflated (RFC 1951), in the letters of an address (RFC 4648,
 * base64url).
 */

/** Characters of a link at most, and of what it unfolds to */
const [MOST_LINK, MOST_TEXT] = [1_000_000, 5_000_000];
/** What the fragment begins with */
export const LINK = '#design=';

async function through(bytes: Uint8Array<ArrayBuffer>, stream: TransformStream<BufferSource, Uint8Array>, most: number): Promise<Uint8Array<ArrayBuffer> | undefined> {
  const reader = new Blob([bytes]).stream().pipeThrough(stream as never).getReader() as ReadableStreamDefaultReader<Uint8Array>;
  const parts: Uint8Array[] = [];
  let size = 0;
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    size += part.value.length;
    // A few letters may unfold to anything: no more is taken than a design has.
    if (size > most) {
      await reader.cancel();
      return undefined;
    }
    parts.push(part.value);
  }
  const out = new Uint8Array(size);
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

/** The fragment that holds a design. @returns it; problem "size" where it is longer than addresses are */
export async function linkOf(d: Design): Promise<Result<string>> {
  const packed = (await through(new TextEncoder().encode(JSON.stringify(d)), new CompressionStream('deflate-raw'), MOST_LINK))!;
  const text = packed && btoa(Array.from(packed, (b) => String.fromCharCode(b)).join('')).replaceAll('+', '-').replaceAll('/', '_').replace(/=+$/, '');
  return text && text.length <= MOST_LINK ? ok(`${LINK}${text}`) : fail('size', 'the link', 'it holds more than an address does (measured responses, captures)', 'save it as a file');
}

/** Does a fragment hold a design? */
export const isLink = (fragment: string): boolean => fragment.startsWith(LINK);

/** The design in a fragment. @returns it; problem "link" where there is none in it, and those of reading a design */
export async function readLink(fragment: string): Promise<Result<Design>> {
  const broken = (message: string): Result<never> => fail('link', 'the link', message, 'copy the whole of it again, or ask for the file');
  const text = fragment.slice(LINK.length);
  if (!isLink(fragment) || text.length > MOST_LINK || !/^[A-Za-z0-9_-]+$/.test(text)) return broken('this link holds no design');
  try {
    const packed = Uint8Array.from(atob(text.replaceAll('-', '+').replaceAll('_', '/')), (c) => c.charCodeAt(0));
    const bytes = await through(packed, new DecompressionStream('deflate-raw'), MOST_TEXT);
    return bytes ? readDesign(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) : broken('what this link holds is far larger than a design');
  } catch {
    return broken('this link is damaged');
  }
}
