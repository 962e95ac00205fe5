'use client';
import { looksAt } from '../../core/converter/view';
import { valuesOf } from '../../core/interchange/circuitEdit';
import { printQuantity as print, printTyped } from '../../core/quantity';
import frame from '../frame/frame.module.css';
import { useCircuit } from '../state/circuit';
import { ElementField, fieldInWords } from './ElementField';
import { kindOf, placeOf, rolesOf } from './words';

const MEASURES = [['mean', 'mean'], ['rms', 'rms'], ['min', 'lowest'], ['max', 'highest']] as const;

/** A figure below this share of the largest is what rounding has left of nothing. */
const ROUNDING = 1e-9;
const known = (value: number, { min, max }: { min: number; max: number }): number => (Math.abs(value) < ROUNDING * Math.max(Math.abs(min), Math.abs(max)) ? 0 : value);

/** The selected element: what it is there for, its values, what it carries over the settled cycle. */
export function ElementPanel() {
  const { converter } = useCircuit((s) => s.open!);
  const selected = useCircuit((s) => s.selected);
  const view = useCircuit((s) => s.view);
  const fresh = useCircuit((s) => s.fresh);
  const e = converter.circuit.elements.find((x) => x.id === selected);
  if (!e) return <p className="muted">Choose an element: its values can be changed here, and Waveforms shows what it carries.</p>;
  const looked = looksAt(converter.circuit, e.id).flatMap((l) => (view?.measures[l.id] ? [{ ...l, measures: view.measures[l.id]! }] : []));
  const watts = view?.watts[e.id];
  return (
    <div data-testid="element-panel">
      <div className="muted" style={{ fontWeight: 600, fontSize: 11.5 }}>
        Selected element
      </div>
      <div style={{ fontSize: 15, fontWeight: 700, marginTop: 4 }}>{e.id}</div>
      <div className="muted" style={{ marginBottom: 8 }}>
        {kindOf(e)}, <span className="mono">{placeOf(e)}</span>
        {rolesOf(converter, e.id).map((r) => (
          <div key={r}>{r}</div>
        ))}
      </div>
      {valuesOf(e).map((v) => (
        <div key={v.field} className={frame.row}>
          <span>{fieldInWords(v.field)}</span>
          <ElementField key={`${e.id} ${v.field} ${v.value}`} id={e.id} field={v.field} shown={printTyped(v.value, v.unit)} />
        </div>
      ))}
      {looked.length > 0 && (
        <div className={fresh ? '' : 'stale'}>
          {looked.map(({ id, unit, measures }) => (
            <div key={id}>
              <h3>{unit === 'A' ? 'Current' : 'Voltage'} over the settled cycle</h3>
              {MEASURES.map(([key, title]) => (
                <div key={key} className={frame.row}>
                  <span>{title}</span>
                  <span className="mono">{print(known(measures[key], measures), unit, 4)}</span>
                </div>
              ))}
            </div>
          ))}
          {watts !== undefined && Math.abs(watts) > 1e-9 && (
            <>
              <h3>Power</h3>
              <div className={frame.row}>
                <span>{watts < 0 ? 'gives' : 'takes'}</span>
                <span className="mono">{print(Math.abs(watts), 'W', 4)}</span>
              </div>
            </>
          )}
        </div>
      )}
    </div>
  );
}
