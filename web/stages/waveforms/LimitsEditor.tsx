'use client';
import { useState } from 'react';
import { STANDARDS, tableProblem, type LimitTable } from '../../../core/noise/receiver';
import { parseQuantity } from '../../../core/quantity';
import { actions, useStore } from '../../state/store';
import frame from '../../frame/frame.module.css';
import css from '../stages.module.css';

const text = (table: LimitTable): string => table.filter(([, v]) => Number.isFinite(v)).map(([f, v]) => `${f / 1e6} MHz, ${v}`).join('\n');

/** Rows of "0.15 MHz, 66", or what is wrong with one of them. */
function read(typed: string): { table: [number, number][] } | { wrong: string } {
  const rows = typed.split('\n').map((r) => r.trim()).filter((r) => r !== '');
  const table: [number, number][] = [];
  for (const [k, row] of rows.entries()) {
    const [f, level] = row.split(/[,;]/).map((s) => s.trim());
    const hertz = parseQuantity(f ?? '', 'Hz', 'limits');
    if (!hertz.ok || level === undefined || level === '' || !Number.isFinite(Number(level))) return { wrong: `row ${k + 1} is no frequency and level: write "0.15 MHz, 66"` };
    table.push([hertz.value, Number(level)]);
  }
  const wrong = tableProblem(table);
  return wrong ? { wrong } : { table };
}

/** Limits of one's own, typed row by row; the standard's to begin with. */
export function LimitsEditor() {
  const noise = useStore((s) => s.design.noise);
  const mains = useStore((s) => s.design.brief.line.mains !== undefined);
  const [typed, setTyped] = useState<string>();
  const standard = STANDARDS.find((s) => s.id === (noise?.standard ?? (mains ? 'cispr-32-B' : 'cispr-25-3')))!;
  const own = noise?.quasiPeak !== undefined;
  if (typed === undefined)
    return (
      <p style={{ margin: '6px 0' }}>
        <button type="button" className={frame.link} onClick={() => setTyped(text(noise?.quasiPeak ?? standard.quasiPeak))}>
          {own ? 'your limits' : 'limits of your own'}
        </button>
        {own && (
          <>
            {' · '}
            <button type="button" className={frame.link} onClick={() => actions.edit({ noise: { ...noise, quasiPeak: undefined, average: undefined } })}>
              the standard’s
            </button>
          </>
        )}
      </p>
    );
  const found = read(typed);
  const wrong = 'wrong' in found ? found.wrong : undefined;
  return (
    <div style={{ margin: '6px 0' }}>
      <label className="muted" htmlFor="limits" style={{ fontSize: 11.5 }}>
        Frequency and dBµV, quasi-peak, a row each; average 10 dB below
      </label>
      <textarea id="limits" className={css.search} style={{ width: '100%', height: 96, fontFamily: 'inherit' }} value={typed} onChange={(e) => setTyped(e.target.value)} />
      {wrong && <p className={css.fails} style={{ margin: 0 }}>{wrong}</p>}
      <button type="button" className={frame.chip} disabled={wrong !== undefined} onClick={() => ('table' in found && actions.edit({ noise: { ...noise, quasiPeak: found.table, average: found.table.map(([f, v]) => [f, v - 10]) } }), setTyped(undefined))}>
        hold against them
      </button>{' '}
      <button type="button" className={frame.link} onClick={() => setTyped(undefined)}>
        leave
      </button>
    </div>
  );
}
