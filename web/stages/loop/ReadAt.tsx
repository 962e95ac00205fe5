'use client';
import { useState } from 'react';
import { inWords } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import type { BodeCurve } from '../../../core/response/margins';
import { curveAt, readFrequencies } from '../../../core/response/readAt';
import frame from '../../frame/frame.module.css';
import { saveCsv } from '../../plots/savePlot';
import css from '../stages.module.css';

/** The curve in view at frequencies of one's own, as a table and a file. */
export function ReadAt({ curve, name }: { curve: BodeCurve; name: string }) {
  const [text, setText] = useState('');
  const read = readFrequencies(text);
  const rows = read.ok ? curveAt(curve, read.value) : [];
  const known = rows.filter((r) => r.gain !== undefined);
  return (
    <section data-testid="read-at">
      <h3 style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', gap: 6 }}>
        Read at
        <input className={css.search} style={{ width: 150 }} aria-label="frequencies to read the curve at" placeholder="1k, 10k, 40k" value={text} onChange={(e) => setText(e.target.value)} />
      </h3>
      {!read.ok && <p className="muted" style={{ margin: 0 }}>{inWords(read.problem)}.</p>}
      {rows.length > 0 && (
        <table style={{ width: '100%' }}>
          <tbody>
            {rows.map((r, k) => (
              <tr key={k}>
                <td className="muted" style={{ padding: 0 }}>{print(r.frequency, 'Hz')}</td>
                <td className={css.number}>{r.gain === undefined ? 'not on the curve' : `${r.gain.toFixed(2)} dB`}</td>
                <td className={css.number}>{r.phase === undefined ? '' : `${r.phase.toFixed(1)}°`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {known.length > 0 && (
        <button type="button" className={frame.link} onClick={() => saveCsv({ 'frequency (Hz)': known.map((r) => r.frequency), 'gain (dB)': known.map((r) => r.gain!), 'phase (°)': known.map((r) => r.phase!) }, `${name}-read`)}>
          as CSV
        </button>
      )}
    </section>
  );
}
