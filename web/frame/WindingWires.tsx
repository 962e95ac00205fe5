'use client';
import { topologyOf, type Design, type Figures } from '../../core/design';
import { skinDepth, windTurn, type Wire } from '../../core/parts/goods';
import { printQuantity as print } from '../../core/quantity';
import { GOODS } from '../../shelf';
import css from './frame.module.css';

const WIRES = GOODS.filter((g): g is Wire => g.kind === 'wire');

/** What a turn of each winding is wound with: strands of the shelf no thicker than two skin depths. */
export function WindingWires({ id, design, figures }: { id: string; design: Design; figures: Figures }) {
  const part = design.parts[id]!;
  const windings = topologyOf(design)!.windings?.[id];
  if (part.kind !== 'transformer' || !windings) return null;
  return (
    <>
      <h3>A turn is wound with</h3>
      {windings.map((w) => {
        const turns = figures.sizing.values[w.turns]!.taken;
        const area = (part.copperShare * part.windowArea * w.share) / turns;
        const found = windTurn(WIRES, area, design.brief.frequency);
        return (
          <div className={css.row} key={w.element} title={`${print(area * 1e6, '', 3)} mm² of copper a turn; a field goes ${print(skinDepth(design.brief.frequency), 'm', 2)} deep`}>
            <span>{w.element.replace(`${id} `, '')}</span>
            <span className="mono">{found ? `${found.parallel} × ${print(found.wire.diameter, 'm', 3)}` : 'no wire is so thin'}</span>
          </div>
        );
      })}
    </>
  );
}
