import { deflateRawSync } from 'node:zlib';
import { must, openDemo } from '../../demo/open';
import { isLink, LINK, linkOf, readLink } from './designLink';

const inLink = (bytes: Buffer): string => `${LINK}${bytes.toString('base64url')}`;

test.each(['cabin-lighting-rail', 'gate-supplies', 'station-charger'])('%s goes into a link and comes out the same', async (name) => {
  const d = openDemo(name);
  const link = must(await linkOf(d));
  expect(link.length).toBeLessThan(4500);
  expect(isLink(link)).toBe(true);
  expect(must(await readLink(link))).toEqual(d);
});

test('what is no link, is damaged, or unfolds without end is told, in bounded work', async () => {
  const whole = must(await linkOf(openDemo('radio')));
  const told = async (fragment: string): Promise<string> => {
    const read = await readLink(fragment);
    return read.ok ? '' : read.problem.message;
  };
  expect(await told('#other=1')).toMatch(/no design/);
  expect(await told(`${LINK}`)).toMatch(/no design/);
  expect(await told(`${LINK}<script>`)).toMatch(/no design/);
  expect(await told(whole.slice(0, -40))).toMatch(/damaged/);
  expect(await told(inLink(deflateRawSync(Buffer.alloc(50_000_000, 32))))).toMatch(/far larger/);
  expect(await told(inLink(deflateRawSync(Buffer.from('{"kind":"x"}'))))).not.toBe('');
  expect(await told(inLink(deflateRawSync(Buffer.from([0xff, 0xfe]))))).toMatch(/damaged/);
});
