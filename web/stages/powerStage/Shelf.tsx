'use client';
import { useMemo, useRef, useState } from 'react';
import { suggest } from '../../../core/choice';
import { fieldAt, sizingInputOf, topologyOf } from '../../../core/design';
import { sizeDesign } from '../../../core/evaluation';
import { onCurves } from '../../../core/evaluation/onCurves';
import { shelfCsv, shelfJson } from '../../../core/interchange/shelfFile';
import { curvesOf } from '../../../core/parts/curves';
import type { Part, PartKind } from '../../../core/parts/schema';
import { parseQuantity, printQuantity as print } from '../../../core/quantity';
import { FileInput } from '../../frame/FileInput';
import frame from '../../frame/frame.module.css';
import { download } from '../../state/session';
import { dropPart, importShelf, useGoods, useShelf } from '../../state/shelf';
import { actions, useStore } from '../../state/store';
import { choosable } from '../rows';
import css from '../stages.module.css';
import { CurvePlot } from './CurvePlot';
import { GOODS_KINDS, GoodsList } from './GoodsList';

const KINDS: Record<PartKind, string> = { switch: 'switches', diode: 'diodes', inductor: 'inductors', capacitor: 'capacitors', transformer: 'cores' };

/** What is shown of each kind, and what it can be filtered and sorted by. */
const FIGURES: Record<PartKind, string[]> = {
  switch: ['blockingVoltage', 'onResistance', 'gateCharge', 'outputCapacitance', 'junctionToCase'],
  diode: ['blockingVoltage', 'drop', 'slopeResistance', 'recoveryCharge', 'junctionToCase'],
  inductor: ['turns', 'resistance', 'coreArea', 'maxFluxDensity', 'thermalResistance'],
  capacitor: ['ratedVoltage', 'capacitance', 'esr', 'ratedCurrent'],
  transformer: ['coreArea', 'windowArea', 'permeance', 'maxFluxDensity', 'thermalResistance'],
};

const figureOf = (p: Part, key: string): number => (p as unknown as Record<string, number>)[key]!;

/** The shelf: searched, filtered and sorted; a part's curves; own parts added, read from files and saved. */
export function Shelf() {
  const design = useStore((s) => s.design);
  const selected = useStore((s) => s.selected);
  const own = useStore((s) => s.ownParts);
  const shelf = useShelf();
  const here = design.parts[selected]!;
  const [kind, setKind] = useState<PartKind>(here.kind);
  const [goods, setGoods] = useState<keyof typeof GOODS_KINDS>();
  const [search, setSearch] = useState('');
  const [least, setLeast] = useState('');
  const [fitting, setFitting] = useState(false);
  const [by, setBy] = useState<string>();
  const [shown, setShown] = useState<string>(here.part);
  const keys = FIGURES[kind];
  const fits = useMemo(() => (kind === here.kind ? new Set(suggest(topologyOf(design)!, sizingInputOf(design), sizeDesign(design), selected, shelf).map((f) => f.part.part)) : undefined), [design, selected, shelf, kind, here.kind]);
  const first = fieldAt(`parts.any.${keys[0]}`)!;
  const typed = parseQuantity(least, first.unit);
  const from = typed.ok ? typed.value : -Infinity;
  const list = shelf
    .filter((p) => p.kind === kind && p.part.toLowerCase().includes(search.trim().toLowerCase()) && figureOf(p, keys[0]!) >= from && (!fitting || !fits || fits.has(p.part)))
    .sort((a, b) => (by ? figureOf(a, by) - figureOf(b, by) : 0));
  const part = list.find((p) => p.part === shown) ?? list[0];
  const figures = useStore((s) => s.answers.figures);
  // The part that stands in the place that is looked at is seen where it stands.
  const stands = figures && part?.part === here.part ? onCurves(design, selected, figures) : {};
  const chips = (
    <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6, marginBottom: 8 }}>
      {(Object.keys(KINDS) as PartKind[]).map((k) => (
        <button key={k} type="button" className={frame.chip} aria-pressed={!goods && kind === k} onClick={() => (setGoods(undefined), setKind(k), setBy(undefined), setLeast(''))}>
          {KINDS[k]}
        </button>
      ))}
      {(Object.keys(GOODS_KINDS) as (keyof typeof GOODS_KINDS)[]).map((k) => (
        <button key={k} type="button" className={frame.chip} aria-pressed={goods === k} onClick={() => setGoods(k)}>
          {GOODS_KINDS[k]}
        </button>
      ))}
    </div>
  );
  if (goods)
    return (
      <>
        {chips}
        <div className={css.columns} style={{ gridTemplateColumns: 'minmax(0, 1fr) 272px', height: 'auto' }} data-testid="shelf">
          <GoodsList kind={goods}>
            <OwnParts />
          </GoodsList>
        </div>
      </>
    );
  return (
    <>
      {chips}
      <div className={css.columns} style={{ gridTemplateColumns: 'minmax(0, 1fr) 272px', height: 'auto' }} data-testid="shelf">
        <div>
          <div style={{ display: 'flex', flexWrap: 'wrap', gap: 10, alignItems: 'center', marginBottom: 8 }}>
            <input className={css.search} placeholder="name" aria-label="Search the shelf" value={search} onChange={(e) => setSearch(e.target.value)} />
            <label className="muted">
              {first.title} from <input className={css.search} style={{ width: 60 }} inputMode="decimal" aria-label={`${first.title} from`} value={least} aria-invalid={least !== '' && !typed.ok} onChange={(e) => setLeast(e.target.value)} />
            </label>
            {fits && (
              <label className="muted">
                <input type="checkbox" checked={fitting} onChange={(e) => setFitting(e.target.checked)} /> fits {selected}
              </label>
            )}
            <span className="muted">{list.length} parts</span>
          </div>
          <table className={css.list}>
            <thead>
              <tr>
                <th>part</th>
                {keys.map((key) => (
                  <th key={key} style={{ textAlign: 'right' }} aria-sort={by === key ? 'ascending' : 'none'}>
                    <button type="button" className={frame.link} style={{ textDecorationStyle: by === key ? 'solid' : 'dotted', fontSize: 12 }} onClick={() => setBy(by === key ? undefined : key)}>
                      {fieldAt(`parts.any.${key}`)!.title.replace(' at 25 °C', '').replace(' of one', '')}
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {list.map((p) => (
                <tr key={p.part} aria-selected={p.part === part?.part} {...choosable(() => setShown(p.part))}>
                  <td style={{ whiteSpace: 'nowrap' }}>
                    {p.part} {own.some((o) => o.part === p.part) && <span className="muted">own</span>}
                  </td>
                  {keys.map((key) => (
                    <td key={key} className={css.number}>
                      {print(figureOf(p, key), fieldAt(`parts.any.${key}`)!.unit, 2)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          {list.length === 0 && <p className="muted">No part of the shelf is like that.</p>}
        </div>
        <div>
          {part && (
            <>
              <h2>{part.part}</h2>
              <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', marginBottom: 6 }}>
                {part.kind === here.kind && (
                  <button type="button" className={frame.chip} onClick={() => actions.edit({ [`parts.${selected}`]: part })} disabled={here.part === part.part}>
                    {here.part === part.part ? `stands in ${selected}` : `take for ${selected}`}
                  </button>
                )}
                {own.some((o) => o.part === part.part) && (
                  <button type="button" className={frame.chip} onClick={() => void dropPart(part.part)}>
                    off my shelf
                  </button>
                )}
              </div>
              {curvesOf(part).map((c) => (
                <CurvePlot key={c.title} curve={c} here={stands[c.title]} />
              ))}
            </>
          )}
          <OwnParts />
        </div>
      </div>
    </>
  );
}

/** Own parts, sinks, wires and materials: read from a file, and saved as one. */
function OwnParts() {
  const parts = useStore((s) => s.ownParts);
  const goods = useStore((s) => s.ownGoods);
  const shelf = useShelf();
  const all = useGoods();
  const file = useRef<HTMLInputElement>(null);
  const own = [...parts, ...goods];
  const saved = own.length > 0 ? own : [...shelf, ...all];
  return (
    <>
      <h3>Own parts: {own.length === 0 ? 'none yet' : own.length}</h3>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        <button type="button" className={frame.chip} onClick={() => file.current?.click()}>
          read a file…
        </button>
        <button type="button" className={frame.chip} onClick={() => download('shelf.json', shelfJson(saved))}>
          save JSON
        </button>
        <button type="button" className={frame.chip} onClick={() => download('shelf.csv', shelfCsv(saved), 'text/csv')}>
          save CSV
        </button>
      </div>
      <FileInput ref={file} title="Shelf file" accept=".json,.csv" open={(f) => void importShelf(f)} />
      <p className="muted">Parts, sinks, wires and core materials. Saved are your own, or the whole shelf while there are none: a file to start from.</p>
    </>
  );
}
