'use client';
import type { CornerReport } from '../../../core/corners/corners';
import type { Design } from '../../../core/design';
import type { LoopFigures } from '../../../core/evaluation';
import { printQuantity as print, type UnitName } from '../../../core/quantity';
import type { MarginFigure } from '../../../core/response/margins';
import css from '../stages.module.css';
import { Crossovers, Dip } from './Reading';

const ROWS: { key: MarginFigure; title: string; unit: UnitName; worst: 'least' | 'most'; requirement?: 'phaseMargin' | 'gainMargin' }[] = [
  { key: 'phaseMargin', title: 'phase margin', unit: '°', worst: 'least', requirement: 'phaseMargin' },
  { key: 'gainMargin', title: 'gain margin', unit: 'dB', worst: 'least', requirement: 'gainMargin' },
  { key: 'crossover', title: 'crossover', unit: 'Hz', worst: 'least' },
  { key: 'slope', title: 'slope there', unit: 'dB', worst: 'least' },
  { key: 'delayMargin', title: 'delay margin', unit: 's', worst: 'least' },
  { key: 'closest', title: 'closest to −1', unit: '', worst: 'least' },
];

/** Margins at the point in view, and the worst of the corners beside them. */
export function Margins({ loop, corners, design, lost }: { loop: LoopFigures; corners: CornerReport | undefined; design: Design; lost: boolean }) {
  return (
    <>
      <table style={{ width: '100%' }} data-testid="margins">
        <thead>
          <tr>
            <th style={{ textAlign: 'left', fontWeight: 650 }}>Margins</th>
            <th className={css.number} style={{ fontWeight: 400, color: 'var(--muted)' }}>
              here / least
            </th>
          </tr>
        </thead>
        <tbody>
          {ROWS.map(({ key, title, unit, requirement }) => {
            const least = corners?.least?.[key] ?? NaN;
            const fails = requirement && design.requirements[requirement].on && least < design.requirements[requirement].limit;
            const text = (v: number): string => (Number.isFinite(v) ? print(v, unit, unit === '' ? 2 : 3) : v === Infinity ? 'none' : '–');
            // One unit for both figures where they share it.
            const [here, low] = [text(loop[key]), text(least)];
            const shared = here.slice(here.search(/[^−\d.]/));
            const first = low.endsWith(shared) && shared !== here ? here.slice(0, -shared.length) : here;
            return (
              <tr key={key}>
                <td className="muted" style={{ padding: 0 }}>{title}</td>
                <td className={css.number} data-testid={`margin-${key}`}>
                  {first} / <span className={fails ? css.fails : ''}>{low}</span>
                  {key === 'slope' && Number.isFinite(loop.slope) ? '/dec' : ''}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Crossovers loop={loop} />
      <Dip loop={loop} />
      {loop.falls && (
        <p style={{ margin: '2px 0', lineHeight: 1.35 }} data-testid="conditional">
          Stable conditionally: at {print(loop.falls.at, 'Hz', 2)} the phase is past −180° with gain to spare, which may fall by {print(loop.falls.by, 'dB', 2)} and no more.
        </p>
      )}
      {!loop.stable && !lost && <p className={css.fails}>The closed loop is not stable here: a pole of it lies in the right half-plane. Lower the integrator or move the zeros down.</p>}
    </>
  );
}
