'use client';
import { STANDARDS, tableProblem } from '../../../core/noise/receiver';
import frame from '../../frame/frame.module.css';
import { TableField } from '../../frame/TableField';
import { actions, useStore } from '../../state/store';

/** dB that the average detector's limit lies below the other, where one's own are typed */
const BELOW = 10;

/** Limits of one's own, typed row by row; the standard's to begin with. */
export function LimitsEditor({ standard }: { standard: string }) {
  const noise = useStore((s) => s.design.noise);
  const own = noise?.quasiPeak;
  const take = (table: [number, number][]): void => void actions.edit({ noise: { ...noise, quasiPeak: table, average: table.map(([f, v]) => [f, v - BELOW]) } });
  return (
    <div style={{ margin: '6px 0' }}>
      <TableField label={own ? 'your limits' : 'limits of your own'} title={`Frequency and dBµV, quasi-peak, a row each; average ${BELOW} dB below`} table={own ?? STANDARDS.find((s) => s.title === standard)!.quasiPeak} take={take} check={tableProblem} />
      {own && (
        <>
          {' · '}
          <button type="button" className={frame.link} onClick={() => actions.edit({ noise: { ...noise, quasiPeak: undefined, average: undefined } })}>
            the standard’s
          </button>
        </>
      )}
    </div>
  );
}
