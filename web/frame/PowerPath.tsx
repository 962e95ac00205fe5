'use client';
import type { KeyboardEvent } from 'react';
import type { Design, Figures } from '../../core/design';
import { printQuantity as print } from '../../core/quantity';
import { topologyNamed, type DrawnSymbol } from '../../core/topology';
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
  const { drawing } = topologyNamed(design.topology)!;
  const most = figures ? Math.max(...Object.values(figures.duties).map((d) => d.rms)) : 1;
  const amps = (place: string): number => {
    if (!figures) return 0;
    if (place === 'line') return figures.losses.input / figures.point.line;
    if (place === 'load') return figures.point.load;
    return figures.duties[place]?.rms ?? 0;
  };
  return (
    <section className={css.path} aria-label="Power path">
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
          <DrawnPart key={s.id} drawn={s} design={design} figures={figures} paint={paint} selected={selected === s.id} amps={amps(s.id)} />
        ))}
      </svg>
    </section>
  );
}

/** What stands beside a symbol: its value. */
function valueOf(id: string, d: Design, f: Figures | undefined): string {
  const part = d.parts[id];
  if (id === 'line') return f ? print(f.point.line, 'V') : '';
  if (id === 'load') return f ? print(f.point.load, 'A') : '';
  if (part?.kind === 'switch') return `${print(part.blockingVoltage, 'V', 2)} ${print(part.onResistance / part.count, 'Ω', 2).replace('.0 ', ' ')}`;
  if (part?.kind === 'diode') return `${print(part.blockingVoltage, 'V', 2)} ${print(part.drop, 'V', 2)}`;
  const sized = f?.sizing.values[id];
  if (!sized) return '';
  return part?.kind === 'capacitor' ? `${Math.round(sized.taken / part.capacitance)}×${print(part.capacitance, 'F', 2)}` : print(sized.taken, sized.unit);
}

const isPart = (id: string): boolean => id !== 'line' && id !== 'load';

function DrawnPart({ drawn, design, figures, paint, selected, amps }: { drawn: DrawnSymbol; design: Design; figures: Figures | undefined; paint: Paint; selected: boolean; amps: number }) {
  const { id, x, y, turn, label } = drawn;
  const flat = turn % 2 === 1;
  const at = label === 'right' ? { x: x + 25, y: y - 10, anchor: 'start' as const } : { x, y: y + 36, anchor: 'middle' as const };
  const loss = figures?.losses.parts.find((p) => p.id === id)?.total;
  const worst = figures?.stresses.filter((s) => s.place === id).reduce((a, s) => Math.max(a, s.value / s.rating), 0);
  const note =
    paint === 'amps' ? (figures ? `${print(amps, 'A')}${isPart(id) ? ' rms' : ''}` : '') : paint === 'heat' ? (loss === undefined ? '' : print(loss, 'W')) : worst ? `${Math.round(worst * 100)} %` : '';
  const share = paint === 'heat' ? Math.min(1, Math.sqrt((loss ?? 0) / Math.max(1e-9, figures?.losses.total ?? 1))) : paint === 'stress' ? Math.min(1, worst ?? 0) : 0;
  const open = (): void => actions.select(id);
  const noteAt = label === 'above' ? { x: x - 40, y: y - 8, anchor: 'end' as const } : flat ? { x, y: y - 26, anchor: 'middle' as const } : { x: at.x, y: at.y + 29, anchor: 'start' as const };
  const interactive = isPart(id)
    ? {
        className: css.part,
        role: 'button',
        tabIndex: 0,
        'aria-label': `${id}, open`,
        'aria-pressed': selected,
        onClick: open,
        onKeyDown: (e: KeyboardEvent) => (e.key === 'Enter' || e.key === ' ') && open(),
      }
    : {};
  const hue = paint === 'stress' ? (worst && worst > design.requirements.ratings.limit ? 'var(--fail)' : 'var(--slate)') : 'var(--rust)';
  return (
    <g {...interactive} data-part={id}>
      {share > 0 && <rect x={x - (flat ? 36 : 20)} y={y - (flat ? 21 : 22)} width={flat ? 72 : 40} height={flat ? 42 : 44} rx={9} fill={hue} opacity={0.08 + 0.42 * share} />}
      <g transform={`translate(${x} ${y}) rotate(${-90 * turn})`}>
        <Symbol kind={drawn.symbol} selected={selected} />
      </g>
      {label === 'above' ? (
        // Above the wire that it lies in, in one line.
        <text x={x + 40} y={y - 8} fontSize={12} fill="var(--ink)">
          <tspan fontWeight={650}>{id}</tspan>
          <tspan dx={6} fontSize={10.5} fill="var(--muted)" fontFamily="'Sometype Mono Variable', monospace">
            {valueOf(id, design, figures)}
          </tspan>
        </text>
      ) : (
        <g fontSize={12} textAnchor={at.anchor} fill="var(--ink)">
          <text x={at.x} y={at.y} fontWeight={650}>
            {id}
          </text>
          <text x={at.x} y={at.y + 14} fontSize={10.5} fill="var(--muted)" fontFamily="'Sometype Mono Variable', monospace">
            {valueOf(id, design, figures)}
          </text>
        </g>
      )}
      {isPart(id) || (paint === 'amps' && id === 'line') ? (
        <text x={noteAt.x} y={noteAt.y} textAnchor={noteAt.anchor} fontSize={10.5} fill={hue === 'var(--fail)' ? hue : 'var(--ink)'} fontFamily="'Sometype Mono Variable', monospace">
          {note}
        </text>
      ) : null}
      <rect className={css.hit} x={flat ? x - 40 : x - 24} y={flat ? y - 22 : y - 34} width={flat ? 80 : 92} height={flat ? 74 : 66} rx={6} />
    </g>
  );
}
