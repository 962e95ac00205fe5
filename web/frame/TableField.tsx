'use client';
import { useState } from 'react';
import { actions } from '../state/store';
import stages from '../stages/stages.module.css';
import css from './frame.module.css';
import { readTable, tableText, type Table } from './tableText';

/** A table of a frequency and a number, opened, typed row by row, and taken. `check` says what else is wrong with one. */
export function TableField({ label, title, table, take, check }: { label: string; title: string; table: Table; take: (table: [number, number][]) => void; check?: (table: Table) => string | undefined }) {
  const [typed, setTyped] = useState<string>();
  if (typed === undefined)
    return (
      <button type="button" className={css.link} onClick={() => setTyped(tableText(table))}>
        {label}
      </button>
    );
  const found = readTable(typed);
  const wrong = 'wrong' in found ? found.wrong : check?.(found.table);
  return (
    <div style={{ margin: '6px 0' }}>
      <label className="muted" style={{ fontSize: 11.5, display: 'block' }}>
        {title}
        <textarea className={stages.search} style={{ width: '100%', height: 92, fontFamily: 'inherit' }} value={typed} onChange={(e) => setTyped(e.target.value)} />
      </label>
      {wrong !== undefined && <p className={stages.fails} style={{ margin: 0 }}>{wrong}</p>}
      <button type="button" className={css.chip} disabled={wrong !== undefined} onClick={() => ('table' in found && take(found.table), setTyped(undefined))}>
        take it
      </button>{' '}
      <button type="button" className={css.link} onClick={() => (actions.dismiss(), setTyped(undefined))}>
        leave
      </button>
    </div>
  );
}
