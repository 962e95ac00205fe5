'use client';
import { useState, type ReactNode } from 'react';
import { goodsCurves, padResistance, wireResistance, type Goods } from '../../../core/parts/goods';
import { printQuantity as print, type UnitName } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { dropPart, useGoods } from '../../state/shelf';
import { actions, useStore } from '../../state/store';
import { choosable } from '../rows';
import css from '../stages.module.css';
import { CurvePlot } from './CurvePlot';
import { OwnGoods } from './OwnGoods';
import { OwnMaterial } from './OwnMaterial';

type Kind = Goods['kind'];
export const GOODS_KINDS: Record<Kind, string> = { sink: 'sinks', wire: 'wires', material: 'materials', core: 'bare cores', pad: 'pads' };

interface Column {
  title: string;
  unit: UnitName;
  /** Undefined where it has none */
  of(g: Goods): number | undefined;
}

/** A figure of the kind that a column is for. */
const column = <K extends Kind>(title: string, unit: UnitName, of: (g: Extract<Goods, { kind: K }>) => number | undefined): Column => ({ title, unit, of: of as Column['of'] });

/** A figure of a column, or none. */
function shownOf({ of, unit }: Column, g: Goods): string {
  const v = of(g);
  if (v === undefined) return '';
  return unit === '' ? String(Number(v.toPrecision(3))) : print(v, unit, 2);
}

const COLUMNS: Record<Kind, Column[]> = {
  sink: [column<'sink'>('to still air', 'K/W', (g) => g.thermalResistance), column<'sink'>('length', 'm', (g) => g.length), column<'sink'>('width', 'm', (g) => g.width), column<'sink'>('height', 'm', (g) => g.height)],
  wire: [column<'wire'>('copper', 'm', (g) => g.diameter), column<'wire'>('strands', '', (g) => g.strands), column<'wire'>('over all', 'm', (g) => g.outerDiameter), column<'wire'>('width', 'm', (g) => (typeof g.width === 'number' ? g.width : undefined)), column<'wire'>('Ω a metre', 'Ω', (g) => (g.width === 'window' ? undefined : wireResistance({ ...g, width: g.width })))],
  core: [column<'core'>('leg', 'm²', (g) => g.coreArea), column<'core'>('volume', 'm³', (g) => g.coreVolume), column<'core'>('window', 'm²', (g) => g.windowWidth * g.windowHeight), column<'core'>('to still air', 'K/W', (g) => g.thermalResistance)],
  pad: [column<'pad'>('thickness', 'm', (g) => g.thickness), column<'pad'>('conductivity', 'W/(m K)', (g) => g.conductivity), column<'pad'>('of 1 cm²', 'K/W', (g) => padResistance(g, 1e-4))],
  material: [column<'material'>('permeability', '', (g) => g.permeability), column<'material'>('full at', 'T', (g) => g.maxFluxDensity), column<'material'>('α of f', '', (g) => g.steinmetz.alpha), column<'material'>('β of B', '', (g) => g.steinmetz.beta)],
};

/** What one of them does to the design, and how that is said; nothing for wires, which the windings choose. */
function taking(g: Goods, selected: string, cored: boolean): { says: string; act(): void } | undefined {
  if (g.kind === 'sink') return { says: 'take as the sink', act: () => actions.edit({ 'sink.thermalResistance': g.thermalResistance }) };
  if (g.kind === 'material' && cored) return { says: `make the core of ${selected} of it`, act: () => actions.edit({ [`parts.${selected}.steinmetz`]: g.steinmetz, [`parts.${selected}.maxFluxDensity`]: g.maxFluxDensity }) };
  return undefined;
}

/** Sinks, wires and core materials of the shelf, with what is drawn of them. */
export function GoodsList({ kind, children }: { kind: Kind; children: ReactNode }) {
  const design = useStore((s) => s.design);
  const selected = useStore((s) => s.selected);
  const [shown, setShown] = useState<string>();
  const ours = useStore((s) => s.ownGoods);
  const list = useGoods().filter((g) => g.kind === kind);
  const item = list.find((g) => g.part === shown) ?? list[0]!;
  const own = design.parts[selected]!.kind;
  const take = taking(item, selected, own === 'inductor' || own === 'transformer');
  return (
    <>
      <div>
        <table className={css.list}>
          <thead>
            <tr>
              <th>{GOODS_KINDS[kind]}</th>
              {COLUMNS[kind].map((c) => (
                <th key={c.title} style={{ textAlign: 'right' }}>
                  {c.title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {list.map((g) => (
              <tr key={g.part} aria-selected={g === item} {...choosable(() => setShown(g.part))}>
                <td style={{ whiteSpace: 'nowrap' }}>
                  {g.part} {ours.includes(g) && <span className="muted">own</span>}
                </td>
                {COLUMNS[kind].map((c) => (
                  <td key={c.title} className={css.number}>
                    {shownOf(c, g)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div>
        <h2>{item.part}</h2>
        {take && (
          <button type="button" className={frame.chip} style={{ marginBottom: 6 }} onClick={take.act}>
            {take.says}
          </button>
        )}
        {ours.includes(item) && (
          <button type="button" className={frame.chip} style={{ marginBottom: 6 }} onClick={() => void dropPart(item.part)}>
            off my shelf
          </button>
        )}
        {kind === 'sink' && <p className="muted">The design has {print(design.sink.thermalResistance, 'K/W')} from its sink to the air.</p>}
        {goodsCurves(item).map((c) => (
          <CurvePlot key={c.title} curve={c} />
        ))}
        {item.kind === 'material' ? <OwnMaterial key={item.part} like={item} /> : <OwnGoods key={item.part} like={item} />}
        {children}
      </div>
    </>
  );
}
