'use client';
import { useState } from 'react';
import { fieldAt } from '../../../core/design';
import { Goods, GOODS_FIELDS, type Core, type Pad, type Sink, type Wire } from '../../../core/parts/goods';
import type { Problem } from '../../../core/problem';
import { parseQuantity, printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { keepParts } from '../../state/shelf';
import { actions } from '../../state/store';
import css from '../stages.module.css';

type Typed = Sink | Wire | Core | Pad;

/** What is asked of each kind, by its words. */
const ASKED: Record<Typed['kind'], readonly (readonly [key: string, says: string])[]> = {
  sink: [['thermalResistance', 'to still air'], ['length', 'length'], ['width', 'width'], ['height', 'height']],
  wire: [['diameter', 'copper of a strand'], ['strands', 'strands'], ['outerDiameter', 'over all']],
  pad: [['thickness', 'thickness'], ['conductivity', 'conductivity']],
  core: [['coreArea', 'leg'], ['coreVolume', 'volume'], ['windowWidth', 'window, across'], ['windowHeight', 'window, along'], ['turnLength', 'mean turn'], ['thermalResistance', 'winding to air'], ['height', 'height']],
};
const NAMES: Record<Typed['kind'], string> = { sink: 'A sink of your own', wire: 'A wire of your own', core: 'A core of your own', pad: 'A pad of your own' };

/** A sink, wire, core or pad of one's own, typed: it begins as the one that is looked at. */
export function OwnGoods({ like }: { like: Typed }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [text, setText] = useState<Record<string, string>>({});
  if (!open)
    return (
      <button type="button" className={frame.link} onClick={() => setOpen(true)}>
        one of your own, typed
      </button>
    );
  const unitOf = (key: string) => (fieldAt(`parts.any.${key}`) ?? GOODS_FIELDS[key])!.unit;
  const given = (key: string): string => text[key] ?? (unitOf(key) === '' ? String(like[key as keyof Typed]) : print(like[key as keyof Typed] as unknown as number, unitOf(key), 3));
  const read = ASKED[like.kind].map(([key, says]) => ({ key, says, value: unitOf(key) === '' ? ({ ok: true, value: Number(given(key)) } as const) : parseQuantity(given(key), unitOf(key), says) }));
  // A foil stays one: its copper is its thickness.
  const item = { ...like, part: name.trim().slice(0, 80), ...Object.fromEntries(read.flatMap((r) => (r.value.ok ? [[r.key, r.value.value]] : []))) };
  const parsed = Goods.safeParse(item);
  const wrong = read.find((r) => !r.value.ok);
  const bad = parsed.success ? undefined : parsed.error.issues.find((i) => i.path[0] !== 'part');
  const problem: Problem | undefined = wrong && !wrong.value.ok ? wrong.value.problem : bad && { code: 'range', where: ASKED[like.kind].find(([key]) => key === bad.path[0])?.[1] ?? '', message: 'it is not above zero, or no whole number', remedy: 'give another' };
  const save = async (): Promise<void> => {
    if (!parsed.success) return;
    await keepParts([parsed.data]);
    actions.notify(`${parsed.data.part} is on your shelf`);
    setOpen(false);
  };
  const row = (label: string, value: string, set: (v: string) => void, width = 90) => (
    <label className={frame.row} key={label}>
      <span>{label}</span>
      <input className={frame.select} style={{ width, textAlign: 'right' }} aria-label={label} value={value} onChange={(e) => set(e.target.value)} />
    </label>
  );
  return (
    <div data-testid="own-goods">
      <h3>{NAMES[like.kind]}</h3>
      {row('its name', name, setName, 150)}
      {ASKED[like.kind].map(([key, says]) => row(says, given(key), (v) => setText({ ...text, [key]: v })))}
      {problem && <p className={css.fails} style={{ margin: '4px 0' }}>{`${problem.where}: ${problem.message}: ${problem.remedy}`}</p>}
      <OntoShelf able={parsed.success && problem === undefined} save={() => void save()} close={() => setOpen(false)} />
    </div>
  );
}

/** Onto the own shelf, or not. */
export function OntoShelf({ able, save, close }: { able: boolean; save(): void; close(): void }) {
  return (
    <div className={css.tabs} style={{ marginTop: 6 }}>
      <button type="button" className={frame.chip} disabled={!able} onClick={save}>
        Onto my shelf
      </button>
      <button type="button" className={frame.link} onClick={close}>
        not now
      </button>
    </div>
  );
}
