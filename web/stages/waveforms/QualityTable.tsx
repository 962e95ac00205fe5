'use client';
import type { RequirementId } from '../../../core/design';
import { meets, requirementNamed } from '../../../core/corners/requirements';
import { printQuantity as print, type UnitName } from '../../../core/quantity';
import { CLASSES } from '../../../core/surroundings/drawnCurrent';
import frame from '../../frame/frame.module.css';
import { OverrideField } from '../../frame/QuantityField';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';
import type { Shown } from './MainsView';
import type { MainsQuality } from '../../../core/schedule/mainsQuality';

interface Row {
  title: string;
  of(q: MainsQuality): number;
  say(v: number): string;
  asked?: RequirementId;
}

const by = (unit: UnitName, digits: number) => (v: number): string => print(v, unit, digits);

const ROWS: readonly Row[] = [
  { title: 'power factor', of: (q) => q.powerFactor, say: (v) => v.toFixed(4), asked: 'powerFactor' },
  { title: 'displacement', of: (q) => q.displacement, say: (v) => v.toFixed(4) },
  { title: 'distortion', of: (q) => q.distortion, say: by('%', 3), asked: 'distortion' },
  { title: '3rd, of the first', of: (q) => (q.harmonics.find((h) => h.order === 3)?.value ?? 0) / q.fundamental, say: by('%', 2) },
  { title: 'of its limit', of: (q) => (q.tightest ? q.tightest.value / q.tightest.limit : 0), say: by('%', 3), asked: 'harmonics' },
  { title: 'line, rms', of: (q) => q.current, say: by('A', 4) },
  { title: 'crest / rms', of: (q) => q.crest / q.current, say: (v) => v.toFixed(3) },
  { title: 'drawn', of: (q) => q.power, say: by('W', 4) },
  { title: 'output, pp', of: (q) => q.output.peakToPeak, say: by('V', 3) },
];

/** Figures of what is drawn from the mains, now and of kept states, with what is asked of them; a click asks. */
export function QualityTable({ shown }: { shown: readonly Shown[] }) {
  const design = useStore((s) => s.design);
  const { holdUp } = useStore((s) => s.answers.figures?.mains) ?? {};
  const inrush = shown[0]?.study.inrush;
  const { requirements } = design;
  const asks = (id: RequirementId) => {
    const { direction, unit } = requirementNamed(id);
    const { limit, on } = requirements[id];
    const says = `${direction === 'at most' ? '≤' : '≥'} ${unit === '' ? limit : print(limit, unit, 3)}`;
    return (
      <button type="button" className={frame.link} aria-pressed={on} title={on ? 'Asked at every corner: a click takes it away' : 'Ask for it at every corner'} aria-label={`${on ? 'asked' : 'ask'} ${requirementNamed(id).title} ${says}`} style={on ? {} : { color: 'var(--muted)', fontWeight: 400 }} onClick={() => actions.edit({ [`requirements.${id}.on`]: !on })}>
        {says}
      </button>
    );
  };
  const fails = (id: RequirementId | undefined, v: number): string => (id && requirements[id].on && !meets(id, requirements[id].limit, v) ? css.fails! : '');
  return (
    <table className={css.list} data-testid="quality" style={{ fontSize: 12.5 }}>
      <thead>
        <tr>
          <th>
            <select className={frame.select} aria-label="Class of equipment" value={design.brief.equipmentClass ?? 'A'} onChange={(e) => actions.edit({ 'brief.equipmentClass': e.target.value })}>
              {CLASSES.map((c) => (
                <option key={c} value={c}>
                  class {c}
                </option>
              ))}
            </select>
          </th>
          {shown.map((s) => (
            <th key={s.label} style={{ textAlign: 'right', color: s.colour }}>
              {s.label}
            </th>
          ))}
          <th style={{ textAlign: 'right' }}>asked</th>
        </tr>
      </thead>
      <tbody>
        {ROWS.map((r) => (
          <tr key={r.title}>
            <td style={{ paddingBlock: 1.5 }}>{r.title}</td>
            {shown.map((s) => {
              const v = r.of(s.study.quality);
              return (
                <td key={s.label} className={`${css.number} ${fails(r.asked, v)}`} style={{ paddingBlock: 1.5 }}>
                  {r.say(v)}
                </td>
              );
            })}
            <td className={css.number} style={{ paddingBlock: 1.5, paddingRight: 0 }}>{r.asked ? asks(r.asked) : null}</td>
          </tr>
        ))}
        {holdUp !== undefined && (
          <tr>
            <td style={{ paddingBlock: 1.5 }}>hold-up</td>
            <td className={`${css.number} ${fails('holdUp', holdUp)}`} style={{ paddingBlock: 1.5 }}>
              {print(holdUp, 's', 3)}
            </td>
            {shown.slice(1).map((s) => (
              <td key={s.label} />
            ))}
            <td className={css.number} style={{ paddingBlock: 1.5, paddingRight: 0 }}>{asks('holdUp')}</td>
          </tr>
        )}
        {inrush !== undefined && (
          <tr>
            <td style={{ paddingBlock: 1.5 }} title={`Plugged in at the crest of the highest line, at rest, behind 0.4 Ω and 0.25 Ω of the mains (IEC TR 60725)${inrush.bare === undefined ? '' : `; ${print(inrush.bare, 'A', 3)} without the resistor`}. The inductor does not saturate`}>
              inrush
            </td>
            <td className={css.number} style={{ paddingBlock: 1.5 }}>
              {print(inrush.peak, 'A', 3)}
            </td>
            {shown.slice(1).map((s) => (
              <td key={s.label} />
            ))}
            <td className={css.number} style={{ paddingBlock: 1.5, paddingRight: 0 }}>
              <OverrideField path="brief.inrushResistance" unit="Ω" label="resistor against the inrush" computed={0} suggested={0} />
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
