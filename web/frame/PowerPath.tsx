'use client';
import { usePathname } from 'next/navigation';
import type { CSSProperties, KeyboardEvent } from 'react';
import type { Design } from '../../core/design';
import type { Figures, LoopPlace } from '../../core/evaluation';
import { regulatorOf } from '../../core/evaluation/postRegulator';
import { printQuantity as print, printTyped } from '../../core/quantity';
import { topologyOf } from '../../core/design';
import type { DrawnSymbol } from '../../core/topology';
import { inTimeActions } from '../state/inTime';
import { actions, useStore, type Paint } from '../state/store';
import { useSize } from '../plots/useSize';
import { Symbol } from './Symbol';
import css from './frame.module.css';

const MONO = "'Sometype Mono Variable', monospace";
const PAINTS: Paint[] = ['amps', 'heat', 'stress'];

/** The converter from line to load, drawn, or folded to a strip. */
export const PowerPath = () => (useStore((s) => s.folded) ? <FoldedPath /> : <DrawnPath />);

/** The converter drawn from line to load, its part values on it; a click opens a part at the right. */
function DrawnPath() {
  const design = useStore((s) => s.design);
  const paint = useStore((s) => s.paint);
  const selected = useStore((s) => s.selected);
  const { figures, fresh } = useStore((s) => s.answers);
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const marked = usePathname().endsWith('/loop');
  const { drawing } = topologyOf(design)!;
  // Text keeps its size however far the drawing shrinks: what stands at its right end may want more room than the drawing has.
  const units = width > 0 ? SMALLEST / (width / (drawing.width + 28)) : SMALL;
  const right = Math.max(drawing.width + 14, ...drawing.symbols.filter((s) => s.symbol === 'load').map((s) => s.x + 27 + CHARACTER * Math.max(SMALL, units) * endValue(s, design, figures).length));
  /** Pixels of a unit of the drawing */
  const scale = width > 0 ? Math.min(width / (right + 14), height / (drawing.height + 40)) : 1;
  const most = figures ? Math.max(...Object.values(figures.duties).map((d) => d.rms)) : 1;
  const amps = (slot: string): number => {
    if (!figures) return 0;
    const end = drawing.symbols.find((s) => s.id === slot && !isPart(s));
    if (end) return isLine(end) ? figures.losses.input / figures.point.line : figures.point.load;
    return figures.duties[slot]?.rms ?? 0;
  };
  return (
    <section className={css.path} style={{ '--path-height': `${heightOf(drawing)}px` } as CSSProperties} aria-label="Power path">
      <div className={css.pathTools} role="group" aria-label="Paint the power path by">
        {PAINTS.map((p) => (
          <button key={p} type="button" className={css.chip} aria-pressed={paint === p} onClick={() => actions.paint(p)}>
            {p}
          </button>
        ))}
        <button type="button" className={css.chip} onClick={actions.foldPath} aria-label="Fold the power path to a strip" title="Fold to a strip (F)">
          ▴
        </button>
      </div>
      <div ref={box} style={{ height: '100%' }}>
      <svg viewBox={`-14 -34 ${right + 14} ${drawing.height + 40}`} width="100%" height="100%" preserveAspectRatio="xMidYMid meet" className={fresh ? '' : 'stale'}>
        <g stroke="var(--ink)" fill="none" strokeLinecap="round" strokeLinejoin="round">
          {drawing.wires.map(({ points, carries }, i) => (
            <path key={i} d={'M' + points.map((p) => p.join(' ')).join('L')} strokeWidth={paint === 'amps' && carries !== '' ? 1 + (4.5 * amps(carries)) / most : 1.8} />
          ))}
        </g>
        {drawing.dots.map(([x, y], i) => (
          <circle key={i} cx={x} cy={y} r={3} fill="var(--ink)" />
        ))}
        {drawing.symbols.map((s) => (
          <DrawnPart key={s.id} drawn={s} design={design} figures={figures} paint={paint} selected={selected === slotOf(s)} amps={amps(slotOf(s))} scale={scale} crowded={scale < (drawing.symbols.some((o) => o.terse) ? WITH_FILTER : CROWDED)} roomBelow={!drawing.symbols.some((o) => Math.abs(o.x - s.x) < 60 && o.y > s.y && o.y < s.y + 115)} />
        ))}
        {marked && <PlaceMarks design={design} figures={figures} />}
      </svg>
      </div>
    </section>
  );
}

/** Where the loop can be broken, on the Loop stage: a cut in the wire, chosen by a click. */
function PlaceMarks({ design, figures }: { design: Design; figures: Figures | undefined }) {
  const symbols = topologyOf(design)!.drawing.symbols;
  const chosen = useStore((s) => s.place) ?? 'output';
  const at = ({ id, slot }: LoopPlace): { x: number; y: number } | undefined => {
    if (id === 'command') {
      const s = symbols.find((x) => design.parts[slotOf(x)]?.kind === 'switch');
      return s && { x: s.x - 22, y: s.y + 20 };
    }
    const s = symbols.find((x) => (slot === undefined ? x.symbol === 'load' : slotOf(x) === slot && isPart(x)));
    return s && (s.turn % 2 === 1 ? { x: s.x - 41, y: s.y } : { x: s.x, y: s.y - 36 });
  };
  return figures?.loop?.places.map((p) => {
    const where = at(p);
    const read = (): void => actions.readAt(p.id === 'output' ? undefined : p.id);
    return (
      where && (
        <g key={p.id} className={css.part} role="button" tabIndex={0} aria-label={`Break the loop at the ${p.title}`} aria-pressed={chosen === p.id} data-place={p.id} transform={`translate(${where.x} ${where.y})`} onClick={read} onKeyDown={(e: KeyboardEvent) => (e.key === 'Enter' || e.key === ' ') && read()}>
          <title>{`the loop broken at the ${p.title}: ${p.note}`}</title>
          <circle r={7} fill={chosen === p.id ? 'var(--rust)' : 'var(--card)'} stroke="var(--rust)" strokeWidth={1.6} />
          <path d="M-3 -3L3 3M3 -3L-3 3" stroke={chosen === p.id ? 'var(--card)' : 'var(--rust)'} strokeWidth={1.6} strokeLinecap="round" />
        </g>
      )
    );
  });
}

/** px that a drawing gets: as much as leaves the stage its room, for it can be folded where that is not enough. */
const heightOf = ({ height }: { height: number }): number => Math.round(Math.min(340, Math.max(178, 0.8 * (height + 40))));

/** The path as one line, from line to load: each part with what is painted on it. */
function FoldedPath() {
  const design = useStore((s) => s.design);
  const paint = useStore((s) => s.paint);
  const selected = useStore((s) => s.selected);
  const { figures, fresh } = useStore((s) => s.answers);
  const drawn = topologyOf(design)!.drawing.symbols;
  const parts = [...new Map(drawn.filter(isPart).toSorted((a, b) => a.x - b.x).map((s) => [slotOf(s), s])).keys()];
  return (
    <section className={`${css.path} ${css.folded}`} aria-label="Power path">
      <div className={`${css.foldedParts} ${fresh ? '' : 'stale'}`}>
        {parts.map((id) => (
          <button key={id} type="button" className={css.chip} aria-pressed={selected === id} aria-label={`${id}, open`} title={valueOf(id, design, figures)} onClick={() => (actions.select(id), inTimeActions.read(undefined))}>
            <b>{id}</b> <span className="mono">{noteOf(id, paint, figures, figures?.duties[id]?.rms ?? 0)}</span>
          </button>
        ))}
      </div>
      <button type="button" className={css.chip} onClick={actions.foldPath} aria-label="Unfold the power path" title="Unfold (F)">
        ▾
      </button>
    </section>
  );
}

/** The largest share of a rating that a part takes. */
const worstStress = (id: string, figures: Figures | undefined): number | undefined => figures?.stresses.filter((s) => s.slot === id).reduce((a, s) => Math.max(a, s.value / s.rating), 0);

/** What is painted on a part, in figures. */
function noteOf(id: string, paint: Paint, figures: Figures | undefined, amps: number, digits = 3): string {
  if (!figures) return '';
  if (paint === 'amps') return print(amps, 'A', digits);
  if (paint === 'stress') {
    const worst = worstStress(id, figures);
    return worst ? `${Math.round(worst * 100)} %` : '';
  }
  const loss = figures.losses.parts.find((p) => p.id === id)?.total;
  return loss === undefined ? '' : print(loss, 'W', digits);
}

/** What stands beside a symbol: its value. */
function valueOf(id: string, d: Design, f: Figures | undefined): string {
  const part = d.parts[id];
  if (part?.kind === 'switch') return `${print(part.blockingVoltage, 'V', 2)} ${print(part.onResistance / part.count, 'Ω', 2).replace('.0 ', ' ')}`;
  if (part?.kind === 'diode') return `${print(part.blockingVoltage, 'V', 2)} ${print(part.drop, 'V', 2)}`;
  if (part?.kind === 'transformer') return f ? Object.values(f.sizing.values).flatMap((v) => (v.slot === id && v.unit === '' ? [v.taken] : [])).join(' : ') : '';
  const sized = f?.sizing.values[id];
  if (!sized) return '';
  return part?.kind === 'capacitor' ? `${sized.count === 1 ? '' : `${sized.count}×`}${part.series > 1 ? `${part.series} s. ` : ''}${print(part.capacitance, 'F', 2)}` : print(sized.taken, sized.unit);
}

/** What stands beside the ends of the path: volts of the line, amps of the load, volts of a regulator, volts of a further output as they come out. */
function endValue(s: DrawnSymbol, d: Design, f: Figures | undefined): string {
  if (!f) return '';
  if (isLine(s)) return printTyped(f.point.line, 'V', 3);
  if (s.symbol === 'regulator') return print(regulatorOf(d)!.regulator.voltage, 'V');
  // Loads are drawn in the order of the outputs.
  const output = topologyOf(d)!.drawing.symbols.filter((x) => x.symbol === 'load').findIndex((x) => x.id === s.id);
  if (output === 0) return printTyped(f.point.load, 'A', 3);
  const second = f.cycle.signals.output2;
  return second ? `${print(second.mean, 'V')} of ${print(d.brief.further?.[output - 1]?.voltage ?? 0, 'V')}` : '';
}

/** A part, and no end of the path. */
const isPart = (s: DrawnSymbol): boolean => s.symbol !== 'load' && s.symbol !== 'regulator' && !isLine(s);
const isLine = ({ symbol }: DrawnSymbol): boolean => symbol === 'source' || symbol === 'mains';
const slotOf = (s: DrawnSymbol): string => s.slot ?? s.id;

/** px of the smallest text, and units of the drawing that it has where the drawing is at its own size */
const [SMALLEST, SMALL, NAME] = [11, 10.5, 12];
/** px a unit below which values beside symbols would stand on one another; where a filter has its names between them already */
const [CROWDED, WITH_FILTER] = [0.64, 0.84];

/** Height of a line, and width of a figure, over the size of the text */
const [LINE, CHARACTER] = [1.18, 0.62];

/** One line of a label. */
interface Line {
  text: string;
  kind: 'name' | 'value' | 'note';
}

/** A value in one line, or, where that would be long for the room there is, in its words. */
const wrapped = (value: string, narrow: boolean): string[] => {
  const words = value.match(/[^ ]+ [^ ]+/g) ?? [];
  return narrow && words.length === 2 && words.join(' ') === value ? words : [value];
};

function DrawnPart({ drawn, design, figures, paint, selected, amps, scale, crowded, roomBelow }: { drawn: DrawnSymbol; design: Design; figures: Figures | undefined; paint: Paint; selected: boolean; amps: number; scale: number; crowded: boolean; roomBelow: boolean }) {
  const { x, y, turn, label } = drawn;
  const id = slotOf(drawn);
  const part = isPart(drawn);
  const flat = turn % 2 === 1;
  const wide = drawn.symbol === 'transformer';
  const small = Math.max(SMALL, SMALLEST / scale);
  const named = Math.max(NAME, SMALLEST / scale);
  const step = LINE * small;
  const loss = figures?.losses.parts.find((p) => p.id === id)?.total;
  const worst = worstStress(id, figures);
  const note = label === 'none' || !(part || (paint === 'amps' && isLine(drawn))) ? '' : paint === 'amps' && !part ? (figures ? print(amps, 'A') : '') : noteOf(id, paint, figures, amps, crowded ? 2 : 3);
  const share = paint === 'heat' ? Math.min(1, Math.sqrt((loss ?? 0) / Math.max(1e-9, figures?.losses.total ?? 1))) : paint === 'stress' ? Math.min(1, worst ?? 0) : 0;
  const open = (): void => {
    actions.select(id);
    inTimeActions.read(undefined);
  };
  // Beside a symbol all stands in one column; a part that lies in its wire has its name below, and what is painted on it above.
  const beside = label === 'right' || label === 'left' || wide;
  // Where it is crowded the path names its parts, and the panel says the rest.
  const values = (drawn.terse || crowded) && part ? [] : wrapped(part ? valueOf(id, design, figures) : endValue(drawn, design, figures), scale < 0.9 && (beside || roomBelow));
  const lines: Line[] = [{ text: drawn.id, kind: 'name' as const }, ...values.map((text) => ({ text, kind: 'value' as const })), ...(beside ? [{ text: note, kind: 'note' as const }] : [])].filter((l) => l.text !== '');
  const at = wide ? { x: x + 31, anchor: 'start' as const } : label === 'right' ? { x: x + 25, anchor: 'start' as const } : label === 'left' ? { x: x - 25, anchor: 'end' as const } : { x, anchor: 'middle' as const };
  const first = beside ? y - ((lines.length - 1) / 2) * step + 0.35 * small : y + 24 + 0.9 * named;
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
        <text className={css.pathText} x={x + 40} y={y - 8} fontSize={named} fill="var(--ink)">
          <tspan fontWeight={650}>{drawn.id}</tspan>
          <tspan dx={6} fontSize={small} fill="var(--muted)" fontFamily={MONO}>
            {values.join(' ')}
          </tspan>
        </text>
      ) : (
        lines.map((l, k) => (
          <text key={k} className={css.pathText} x={at.x} y={first + k * step} textAnchor={at.anchor} fontSize={l.kind === 'name' ? named : small} fontWeight={l.kind === 'name' ? 650 : undefined} fill={l.kind === 'value' ? 'var(--muted)' : l.kind === 'note' && hue === 'var(--fail)' ? hue : 'var(--ink)'} fontFamily={l.kind === 'name' ? undefined : MONO}>
            {l.text}
          </text>
        ))
      )}
      {!beside && note !== '' && (
        <text className={css.pathText} x={label === 'above' ? x - 40 : x} y={label === 'above' ? y - 8 : y - 26} textAnchor={label === 'above' ? 'end' : 'middle'} fontSize={small} fill={hue === 'var(--fail)' ? hue : 'var(--ink)'} fontFamily={MONO}>
          {note}
        </text>
      )}
      <rect className={css.hit} x={wide ? x - 38 : flat ? x - 40 : label === 'left' ? x - 92 : x - 24} y={wide ? y - 40 : flat ? y - 22 : y - 34} width={wide ? 120 : flat ? 80 : label === 'left' ? 116 : label === 'none' ? 48 : 92} height={wide ? 80 : flat ? 74 : 66} rx={6} />
    </g>
  );
}
