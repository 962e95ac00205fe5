import { STAGES } from '../stages/list';
import { GLOSSARY, STAGE_HELP, TOUR } from './guide';

test('every stage has its help, the tour stands on stages that there are, and goes through them in their order', () => {
  const ids = STAGES.map((s) => s.id);
  expect(Object.keys(STAGE_HELP).toSorted()).toEqual([...ids].toSorted());
  const places = TOUR.map((t) => ids.indexOf(t.stage));
  expect(places).not.toContain(-1);
  expect(places).toEqual(places.toSorted((a, b) => a - b));
});

test('words stand in their order, each once, and none is explained by itself alone', () => {
  const words = GLOSSARY.map(([w]) => w);
  expect(new Set(words).size).toBe(words.length);
  expect(words).toEqual(words.toSorted((a, b) => a.localeCompare(b)));
  for (const [word, meaning] of GLOSSARY) expect(meaning.toLowerCase().startsWith(word)).toBe(false);
});

test('the tour takes no longer than it says: two minutes at three words a second', () => {
  const count = TOUR.reduce((sum, t) => sum + `${t.title} ${t.text}`.split(/\s+/).length, 0);
  expect(count / 3).toBeLessThan(120);
});
