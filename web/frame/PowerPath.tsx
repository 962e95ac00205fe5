'use client';
import type { KeyboardEvent } from 'react';
import type { Design } from '../../core/design';
import type { Figures } from '../../core/evaluation';
import { printQuantity as print } from '../../core/quantity';
import { topologyOf } from '../../core/design';
import type { DrawnSymbol } from '../../core/topology';
import { actions, useStore, type Paint } from '../state/store';
import { Symbol } from './Symbol';
import css from './frame.module.css';

const PAINTS: Paint[] = ['amps', 'heat', 'stress'];

/** The converter drawn from line to load, its part values on it; a click opens a part at the right. */
export function PowerPath() {
  const design = useStore((s) => s.design);
  const paint = useStore((s) => s.paint);
  const selected = useStore((s) => s.selected);
  const { figures, fresh } = useStore((s) => s.answers);
  const { drawing } = topologyOf(design)!;
  const most = figures ? Math.max(...Object.values(figures.duties).map((d) => d.rms)) : 1;
  const amps = (slot: string): number => {
    if (!figures) return 0;
    const end = drawing.symbols.find((s) => s.id === slot && !isPart(s));
    if (end) return end.symbol === 'load' ? figures.point.load : figures.losses.input / figures.point.line;
    return figures.duties[slot]?.rms ?? 0;
  };
  return (
    <section className={`${css.path} ${drawing.height > 200 ? css.tallest : drawing.height > 150 ? css.tall : ''}`} aria-label="Power path">
      <div className={css.pathTools} role="group" aria-label="Paint the power path by">
        {PAINTS.map((p) => (
          <button key={p} type="button" className={css.chip} aria-pressed={paint === p} onClick={() => actions.paint(p)}>
            {p}
          </button>
        ))}
      </div>
      <svg viewBox={`-14 -34 ${drawing.width + 28} ${drawing.height + 40}`} width="100%" height="100%" preserveAspectRatio="xMidYMid meet" className={fresh ? '' : 'stale'}>
        <g stroke="var(--ink)" fill="none" strokeLinecap="round" strokeLinejoin="round">
          {drawing.wires.map(({ points, carries }, i) => (
            <path key={i} d={'M' + points.map((p) => p.join(' ')).join('L')} strokeWidth={paint === 'amps' && carries !== '' ? 1 + (4.5 * amps(carries)) / most : 1.8} />
          ))}
        </g>
        {drawing.dots.map(([x, y], i) => (
          <circle key={i} cx={x} cy={y} r={3} fill="var(--ink)" />
        ))}
        {drawing.symbols.map((s) => (
          <DrawnPart key={s.id} drawn={s} design={design} figures={figures} paint={paint} selected={selected === slotOf(s)} amps={amps(slotOf(s))} />
        ))}
      </svg>
    </section>
  );
}

/** What stands beside a symbol: its value. */
function valueOf(id: string, d: Design, f: Figures | undefined): string {
  const part = d.parts[id];
  if (part?.kind === 'switch') return `${print(part.blockingVoltage, 'V', 2)} ${print(part.onResistance / part.count, 'Ω', 2).replace('.0 ', ' ')}`;
  if (part?.kind === 'diode') return `${print(part.blockingVoltage, 'V', 2)} ${print(part.drop, 'V', 2)}`;
  if (part?.kind === 'transformer') return f ? Object.values(f.sizing.values).flatMap((v) => (v.slot === id && v.unit === '' ? [v.taken] : [])).join(' : ') : '';
  const sized = f?.sizing.values[id];
  if (!sized) return '';
  return part?.kind === 'capacitor' ? `${sized.count}×${part.series > 1 ? `${part.series} s. ` : ''}${print(part.capacitance, 'F', 2)}` : print(sized.taken, sized.unit);
}

/** What stands beside the ends of the path: volts of the line, amps of the load, volts of a further output as they come out. */
function endValue(s: DrawnSymbol, d: Design, f: Figures | undefined): string {
  if (!f) return '';
  if (s.symbol !== 'load') return print(f.point.line, 'V');
  // Loads are drawn in the order of the outputs.
  const output = topologyOf(d)!.drawing.symbols.filter((x) => x.symbol === 'load').findIndex((x) => x.id === s.id);
  if (output === 0) return print(f.point.load, 'A');
  const second = f.cycle.signals.output2;
  return second ? `${print(second.mean, 'V')} of ${print(d.brief.further?.[output - 1]?.voltage ?? 0, 'V')}` : '';
}

/** A part, and no end of the path. */
const isPart = ({ symbol }: DrawnSymbol): boolean => symbol !== 'load' && symbol !== 'source' && symbol !== 'mains';
const slotOf = (s: DrawnSymbol): string => s.slot ?? s.id;

function DrawnPart({ drawn, design, figures, paint, selected, amps }: { drawn: DrawnSymbol; design: Design; figures: Figures | undefined; paint: Paint; selected: boolean; amps: number }) {
  const { x, y, turn, label } = drawn;
  const id = slotOf(drawn);
  const part = isPart(drawn);
  const flat = turn % 2 === 1;
  const wide = drawn.symbol === 'transformer';
  const at = label === 'right' && !wide ? { x: x + 25, y: y - 10, anchor: 'start' as const } : label === 'left' ? { x: x - 25, y: y - 10, anchor: 'end' as const } : wide ? { x: x + 31, y: y - 18, anchor: 'start' as const } : { x, y: y + 36, anchor: 'middle' as const };
  const loss = figures?.losses.parts.find((p) => p.id === id)?.total;
  const worst = figures?.stresses.filter((s) => s.slot === id).reduce((a, s) => Math.max(a, s.value / s.rating), 0);
  const note =
    paint === 'amps' ? (figures ? `${print(amps, 'A')}${part ? ' rms' : ''}` : '') : paint === 'heat' ? (loss === undefined ? '' : print(loss, 'W')) : worst ? `${Math.round(worst * 100)} %` : '';
  const share = paint === 'heat' ? Math.min(1, Math.sqrt((loss ?? 0) / Math.max(1e-9, figures?.losses.total ?? 1))) : paint === 'stress' ? Math.min(1, worst ?? 0) : 0;
  const open = (): void => actions.select(id);
  const noteAt = wide ? { x: at.x, y: at.y + 31, anchor: 'start' as const } : label === 'left' ? { x: at.x, y: at.y + 29, anchor: 'end' as const } : label === 'above' ? { x: x - 40, y: y - 8, anchor: 'end' as const } : flat ? { x, y: y - 26, anchor: 'middle' as const } : { x: at.x, y: at.y + 29, anchor: 'start' as const };
  const interactive = part
    ? {
        className: css.part,
        role: 'button',
        tabIndex: 0,
        'aria-label': `${drawn.id}, open`,
        'aria-pressed': selected,
        onClick: open,
        onKeyDown: (e: KeyboardEvent) => (e.key === 'Enter' || e.key === ' ') && open(),
      }
    : {};
  const hue = paint === 'stress' ? (worst && worst > design.requirements.ratings.limit ? 'var(--fail)' : 'var(--slate)') : 'var(--rust)';
  return (
    <g {...interactive} data-part={drawn.id}>
      {share > 0 && <rect x={x - (wide || flat ? 36 : 20)} y={y - (wide ? 38 : flat ? 21 : 22)} width={wide || flat ? 72 : 40} height={wide ? 76 : flat ? 42 : 44} rx={9} fill={hue} opacity={0.08 + 0.42 * share} />}
      <g transform={`translate(${x} ${y}) rotate(${-90 * turn})`}>
        <Symbol kind={drawn.symbol} selected={selected} />
      </g>
      {label === 'none' ? null : label === 'above' && !wide ? (
        // Above the wire that it lies in, in one line.
        <text x={x + 40} y={y - 8} fontSize={12} fill="var(--ink)">
          <tspan fontWeight={650}>{drawn.id}</tspan>
          <tspan dx={6} fontSize={10.5} fill="var(--muted)" fontFamily="'Sometype Mono Variable', monospace">
            {part ? valueOf(id, design, figures) : endValue(drawn, design, figures)}
          </tspan>
        </text>
      ) : (
        <g fontSize={12} textAnchor={at.anchor} fill="var(--ink)">
          <text x={at.x} y={at.y} fontWeight={650}>
            {drawn.id}
          </text>
          <text x={at.x} y={at.y + (wide ? 13 : 14)} fontSize={10.5} fill="var(--muted)" fontFamily="'Sometype Mono Variable', monospace">
            {part ? valueOf(id, design, figures) : endValue(drawn, design, figures)}
          </text>
        </g>
      )}
      {label !== 'none' && (part || (paint === 'amps' && drawn.symbol !== 'load')) ? (
        <text x={noteAt.x} y={noteAt.y} textAnchor={noteAt.anchor} fontSize={10.5} fill={hue === 'var(--fail)' ? hue : 'var(--ink)'} fontFamily="'Sometype Mono Variable', monospace">
          {note}
        </text>
      ) : null}
      <rect className={css.hit} x={wide ? x - 38 : flat ? x - 40 : label === 'left' ? x - 92 : x - 24} y={wide ? y - 40 : flat ? y - 22 : y - 34} width={wide ? 120 : flat ? 80 : label === 'left' ? 116 : label === 'none' ? 48 : 92} height={wide ? 80 : flat ? 74 : 66} rx={6} />
    </g>
  );
}
