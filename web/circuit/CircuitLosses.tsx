'use client';
import { useState } from 'react';
import type { ConverterView } from '../../core/converter/view';
import { printQuantity as print } from '../../core/quantity';
import { LossBars } from '../stages/losses/LossBars';

/** Where the watts of a circuit go: by part where its roles name them, by element in all else. */
export function CircuitLosses({ view: { figures, watts }, fresh }: { view: ConverterView; fresh: boolean }) {
  const [chosen, choose] = useState<string>();
  const { losses } = figures;
  const by = (ids: readonly string[]): Record<string, number> => Object.fromEntries(ids.map((id) => [id, watts[id] ?? 0]));
  return (
    <div className={fresh ? '' : 'stale'}>
      <h2 style={{ margin: '0 0 2px' }}>
        <span className="mono" data-testid="circuit-efficiency">{print(losses.efficiency, '%', 4)}</span>
        <span className="muted" style={{ fontWeight: 400, marginLeft: 8 }}>
          {print(losses.input, 'W')} in, {print(losses.output, 'W')} out, {print(losses.total, 'W')} lost
        </span>
      </h2>
      <p className="muted" style={{ marginTop: 0 }}>What the circuit itself burns: losses of switching, cores and gates are not in it.</p>
      <LossBars parts={[...losses.parts, losses.elsewhere].map((p) => ({ id: p.id, total: p.total, mechanisms: by(p.elements) }))} chosen={chosen} onChoose={choose} />
      {chosen && (
        <p>
          <b>{chosen.replace('/', ', ')}</b>: <span className="mono">{print(watts[chosen.split('/')[1]!] ?? 0, 'W', 4)}</span>
        </p>
      )}
    </div>
  );
}
