import { must, openDemo } from '../../demo/open';
import { cornerPoints } from '../corners/corners';
import { powerBalance } from '../converter/power';
import { evaluateLosses, warmedAt } from './evaluate';

const DEMOS = ['cabin-lighting-rail', 'gate-supplies', 'brake-magnet', 'sensor-supply', 'radio', 'door-motor', 'station-charger'];
/** What is added to what burns in the circuit itself: edges, flux and copper at frequency, gates, the divider */
const OUTSIDE = ['overlap', 'output-capacitance', 'recovery', 'dead-time', 'gate', 'core', 'copper-ac', 'divider', 'balancing'];
const INSIDE = ['conduction', 'body-diode', 'copper', 'resistance', 'parallel-resistor'];

test.each(DEMOS)('%s: at every corner input less output is what burns inside; all else is of what is listed', (name) => {
  const d = openDemo(name);
  for (const point of cornerPoints(d)) {
    const { warm } = must(warmedAt(d, point));
    const { input, output, dissipated, residual } = powerBalance(warm.stage.circuit, warm.stage.roles, warm.stage.cycleIntegrals);
    const { losses } = must(evaluateLosses(d, point));
    expect(Math.abs(residual)).toBeLessThan(1e-6);
    expect(Math.abs(input - output - dissipated)).toBeLessThan(1e-6 * input);
    const watts = (ids: readonly string[]): number => losses.parts.reduce((sum, p) => sum + Object.entries(p.mechanisms).filter(([id]) => ids.includes(id)).reduce((a, [, w]) => a + w, 0), 0);
    expect(watts([...OUTSIDE, ...INSIDE]) / losses.total).toBeCloseTo(1, 12);
    // On the mains the balance is that of one angle. Elsewhere the mechanisms inside are what the circuit burns, but for what leaks, and capacitors beside a stiff line.
    if (d.brief.line.mains !== undefined) continue;
    const beside = losses.parts.filter((p) => p.id === 'C1').reduce((sum, p) => sum + (p.mechanisms.resistance ?? 0), 0);
    expect(Math.abs(watts(INSIDE) - beside - dissipated)).toBeLessThan(2e-3 * input);
  }
});
