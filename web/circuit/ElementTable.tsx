'use client';
import type { ConverterView } from '../../core/converter/view';
import { printQuantity as print } from '../../core/quantity';
import frame from '../frame/frame.module.css';
import stages from '../stages/stages.module.css';
import { circuitActions, useCircuit } from '../state/circuit';
import css from './circuit.module.css';
import { kindOf, loopsAt, placeOf, rolesOf, valueIn } from './words';

/** W below which an element takes nothing worth a figure */
const NOTHING = 1e-9;

/** The circuit as a list of its elements and of its nodes, with what each is there for. */
export function ElementTable({ view, fresh }: { view: ConverterView; fresh: boolean }) {
  const { converter } = useCircuit((s) => s.open!);
  const selected = useCircuit((s) => s.selected);
  const nodes = new Map<string, string[]>();
  for (const e of converter.circuit.elements) if ('a' in e) for (const node of new Set([e.a, e.b])) nodes.set(node, [...(nodes.get(node) ?? []), e.id]);
  const takes = (watts: number | undefined): string => (watts === undefined || Math.abs(watts) < NOTHING ? '' : print(watts, 'W'));
  return (
    <div className={css.tables}>
      <table className={stages.list} data-testid="element-table">
        <thead>
          <tr>
            <th>Element</th>
            <th>Kind</th>
            <th>Nodes</th>
            <th className={stages.number}>Value</th>
            <th className={stages.number}>Takes</th>
            <th>What for</th>
          </tr>
        </thead>
        <tbody className={fresh ? '' : 'stale'}>
          {converter.circuit.elements.map((e) => (
            <tr key={e.id} data-clickable aria-selected={selected === e.id} onClick={() => circuitActions.select(e.id)}>
              <td>
                <button type="button" className={frame.link} style={{ textDecoration: 'none', fontWeight: 700 }} aria-pressed={selected === e.id}>
                  {e.id}
                </button>
              </td>
              <td className="muted">{kindOf(e)}</td>
              <td className="mono" style={{ fontSize: 12, whiteSpace: 'nowrap' }}>
                {placeOf(e)}
              </td>
              <td className={stages.number}>{valueIn(e)}</td>
              <td className={stages.number}>{takes(view.watts[e.id])}</td>
              <td>
                <span className={loopsAt(converter, e.id).length > 0 ? css.mark : ''}>{rolesOf(converter, e.id).join(', ')}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <table className={stages.list} style={{ alignSelf: 'start' }}>
        <thead>
          <tr>
            <th>Node</th>
            <th>Joins</th>
          </tr>
        </thead>
        <tbody>
          {[...nodes].map(([node, ids]) => (
            <tr key={node}>
              <td className="mono" style={{ fontSize: 12 }}>
                {node}
              </td>
              <td className="muted">{ids.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
