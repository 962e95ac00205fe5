import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { bareDemo, change } from '../../demo/open';
import { holdCorners } from './corners';
import { junitOf } from './junit';

const rail = bareDemo('cabin-lighting-rail');
interface Case { name: string; failure?: { message: string } }
const read = (text: string): { name: string; tests: string; failures: string; testcase: Case[] } => {
  expect(XMLValidator.validate(text)).toBe(true);
  return (new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '', isArray: (name) => name === 'testcase' }).parse(text) as { testsuites: { testsuite: ReturnType<typeof read> } }).testsuites.testsuite;
};

test('a case a requirement, a failure where one fails, read back by another library', () => {
  const report = holdCorners(rail);
  const suite = read(junitOf(rail, report));
  expect([suite.name, Number(suite.tests), Number(suite.failures)]).toEqual([rail.name, report.worst.length, 1]);
  expect(suite.testcase.filter((c) => c.failure).map((c) => c.name)).toEqual(['load-step deviation']);
  expect(suite.testcase.find((c) => c.failure)!.failure!.message).toContain('433 mV');
});

test('corners without figures are failures, and no name breaks the file', () => {
  const name = '<rail> & "co" \u0000\u001b ]]> \ud800';
  const hot = { ...change(rail, { 'sink.thermalResistance': 400 }), name };
  const suite = read(junitOf(hot, holdCorners(hot)));
  expect(suite.testcase.filter((c) => c.name.startsWith('figures at')).length).toBeGreaterThan(0);
  expect(suite.name).toContain('<rail> & "co"');
});
