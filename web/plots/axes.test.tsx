import { renderToStaticMarkup } from 'react-dom/server';
import { scaleLinear, scaleLog } from 'd3';
import { axisPrefix, LogXAxis, spaced, tracePath, XAxis, YAxis } from './axes';

const texts = (markup: string): string[] => [...markup.matchAll(/<text[^>]*>([^<]*)<\/text>/g)].map((m) => m[1]!.replace(/<!-- -->/g, ''));

test('one prefix for a whole axis, the one its largest end earns', () => {
  expect(axisPrefix([-0.012, 0.009], 'V')).toEqual({ factor: 1e-3, symbol: 'mV' });
  expect(axisPrefix([0, 60], 'V')).toEqual({ factor: 1, symbol: 'V' });
  expect(axisPrefix([0, 13.6e-6], 's')).toEqual({ factor: 1e-6, symbol: 'µs' });
  expect(axisPrefix([0.94, 1], '%')).toEqual({ factor: 0.01, symbol: '%' });
});

test('figures without noise digits, a true minus, the unit once', () => {
  const y = scaleLinear([-0.01, 0.01], [100, 0]);
  const found = texts(renderToStaticMarkup(<svg><YAxis scale={y} unit="V" x0={0} x1={10} count={4} /></svg>));
  expect(found).toEqual(['−10', '−5', '0', '5', '10 mV']);
  const x = scaleLinear([0, 10e-6], [0, 500]);
  expect(texts(renderToStaticMarkup(<svg><XAxis scale={x} unit="s" y0={0} y1={10} count={5} /></svg>))).toEqual(['0', '2', '4', '6', '8', '10 µs']);
});

test('decades of a frequency axis carry their own prefix', () => {
  const x = scaleLog([100, 220e3], [0, 500]);
  expect(texts(renderToStaticMarkup(<svg><LogXAxis scale={x} y0={0} y1={10} /></svg>))).toEqual(['100 Hz', '1 kHz', '10 kHz', '100 kHz']);
});

test('a decade at the end of a frequency axis is named within the plot', () => {
  const markup = renderToStaticMarkup(<svg><LogXAxis scale={scaleLog([1e3, 110e3], [0, 400])} y0={0} y1={10} /></svg>);
  const anchors = [...markup.matchAll(/text-anchor="(\w+)"/g)].map((m) => m[1]);
  expect(anchors).toEqual(['start', 'middle', 'end']);
});

test('a trace lifts the pen where a value does not exist', () => {
  const same = (v: number): number => v;
  expect(tracePath([0, 1, 2, 3], [1, NaN, 3, 4], same, same)).toBe('M0.0 1.0M2.0 3.0L3.0 4.0');
});

test('labels that would cover one another are pushed apart, in their order and no further than needed', () => {
  expect(spaced([10, 50, 90])).toEqual([10, 50, 90]);
  expect(spaced([20, 22, 21])).toEqual([20, 46, 33]);
  expect(spaced([], 13)).toEqual([]);
});
