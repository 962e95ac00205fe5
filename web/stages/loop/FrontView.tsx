'use client';
import { scaleLinear, scaleLog } from 'd3';
import { useMemo, useState, type ReactNode, type RefObject } from 'react';
import { BRANCHES } from '../../../core/branches';
import { slotsOf, type Branch } from '../../../core/branches/branch';
import { bestPeak, bestResistance, dampingRemark, USUAL_RATIO } from '../../../core/branches/damped';
import { dampBranch, dropBranch, hangBranch } from '../../../core/choice';
import { meets } from '../../../core/corners/requirements';
import type { WithLoop } from '../../../core/evaluation';
import { filterAlone } from '../../../core/evaluation/filterAlone';
import { printQuantity as print } from '../../../core/quantity';
import { OverrideField, QuantityField } from '../../frame/QuantityField';
import frame from '../../frame/frame.module.css';
import { tracePath, YAxis } from '../../plots/axes';
import { BodePlot, type DrawnCurve } from '../../plots/BodePlot';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { useShelf } from '../../state/shelf';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';
import { FilterStep } from './FilterStep';

/** The impedance of the line with its filter against that of the converter, and what can be done about the filter. */
export function FrontView({ figures, head, svg }: { figures: WithLoop; head: ReactNode; svg: RefObject<SVGSVGElement | null> }) {
  const { fresh } = useStore((s) => s.answers);
  const design = useStore((s) => s.design);
  const kept = useStore((s) => s.kept);
  const keptFigures = useStore((s) => s.answers.kept);
  const curves = figures.detail!.bode!.front;
  const [alone, setAlone] = useState(false);
  const itself = useMemo(() => (alone ? filterAlone(design) : undefined), [alone, design]);
  const own = itself?.ok ? itself.value : undefined;
  const drawn: DrawnCurve[] = curves
    ? [
        ...kept.flatMap((k, i): DrawnCurve[] => {
          const then = k.visible ? keptFigures[k.id]?.detail?.bode?.front : undefined;
          const { colour, dash } = keptStyle(i);
          return then ? [{ curve: then.filter, label: k.label, colour, dash }] : [];
        }),
        { curve: curves.converter, label: 'converter', colour: 'var(--slate)' },
        { curve: curves.filter, label: 'filter', colour: 'var(--rust)' },
      ]
    : [];
  return (
    <div className={css.columns}>
      <div className={css.stack}>
        {head}
        <div className="muted" style={{ fontSize: 11.5, display: 'flex', justifyContent: 'space-between', gap: 10 }}>
          <span>
          {own ? `green: line A per A drawn, ${print(-own.attenuation, 'dB', 3)} at ${print(design.brief.frequency, 'Hz', 3)} · rust: dB of an ohm` : curves ? 'dB of an ohm · rust: line with filter · blue: converter, closed' : null}
          {curves && !own && kept.length > 0 ? ' · dashed: kept' : null}
          </span>
          {curves && (
            <button type="button" className={frame.link} style={{ whiteSpace: 'nowrap' }} aria-pressed={alone} onClick={() => setAlone(!alone)}>
              {alone ? 'against the converter' : 'by itself'}
            </button>
          )}
        </div>
        <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, display: 'flex' }} data-testid="front">
          {own ? <BodePlot svg={svg} curves={[{ curve: own.impedance, label: 'impedance', colour: 'var(--rust)' }, { curve: own.through, label: 'through', colour: 'var(--spruce)' }]} nyquist={own.through.frequency.at(-1)! * 2} /> : curves ? <BodePlot svg={svg} curves={drawn} nyquist={design.brief.frequency / 2} /> : <p className="muted">The line is stiff: nothing stands between it and the converter, and nothing can ring against it.</p>}
        </div>
      </div>
      <div className={css.tight}>
        {own ? <FilterStep step={own.step} /> : figures.loop.front && <Verdict figures={figures} />}
        <Filters figures={figures} />
      </div>
    </div>
  );
}

/** How the two stand to one another, in figures and in words. */
function Verdict({ figures }: { figures: WithLoop }) {
  const { limit, on } = useStore((s) => s.design.requirements.filterMargin);
  const front = figures.loop.front!;
  const holds = !on || meets('filterMargin', limit, front.margin);
  const row = (label: string, value: string, fails = false) => (
    <div className={frame.row}>
      <span className="muted">{label}</span>
      <span className={`mono ${fails ? css.fails : ''}`}>{value}</span>
    </div>
  );
  return (
    <div data-testid="front-figures">
      <h3 style={{ marginTop: 0 }}>Where they are closest</h3>
      {row('converter above filter', print(front.margin, 'dB', 3), !holds)}
      {row('at', print(front.at, 'Hz', 3))}
      {row('filter', print(front.filter, 'Ω', 3))}
      {row('converter', print(front.converter, 'Ω', 3))}
      {row('angle between', print(front.angle, '°', 3))}
      {row('|1 + Zo / Zi| at least', front.distance.toFixed(3))}
      <div className={frame.row}>
        <span className="muted">asked, at every corner</span>
        <span>
          {on ? (
            <>
              ≥ <QuantityField path="requirements.filterMargin.limit" />{' '}
            </>
          ) : null}
          <button type="button" className={frame.link} aria-pressed={on} onClick={() => actions.edit({ 'requirements.filterMargin.on': !on })}>
            {on ? 'not' : `ask ≥ ${print(limit, 'dB', 2)}`}
          </button>
        </span>
      </div>
      <p className={front.circles ? css.fails : 'muted'} style={{ lineHeight: 1.4, margin: '6px 0' }} data-testid="front-verdict">
        {front.circles
          ? `Unstable: filter and converter ring against one another near ${print(front.distanceAt, 'Hz', 2)}. More damping, or a lower impedance of the filter, brings it back.`
          : front.margin > 0
            ? 'The converter’s impedance is above the filter’s everywhere: they are stable together for certain.'
            : `The two overlap near ${print(front.at, 'Hz', 2)}: stable here all the same, by the angle between them, and not for certain elsewhere. Damping parts them.`}
      </p>
    </div>
  );
}

const DAMPED: readonly { id: '' | 'parallel' | 'series'; title: string }[] = [
  { id: '', title: 'not damped' },
  { id: 'parallel', title: 'R-C beside its capacitor' },
  { id: 'series', title: 'R in series with it' },
];

/** The filters that stand before the line: sized for what, damped how; another can be hung. */
function Filters({ figures }: { figures: WithLoop }) {
  const design = useStore((s) => s.design);
  const shelf = useShelf();
  const own = Object.entries(design.branches ?? {}).filter(([, b]) => BRANCHES[b.kind].line);
  const change = (next: ReturnType<typeof hangBranch>): void => void (next.ok ? actions.take(next.value) : actions.refuse(next.problem));
  return (
    <div data-testid="line-filters">
      {own.map(([id, b]) => (
        <OneFilter key={id} id={id} branch={b} figures={figures} change={change} />
      ))}
      <button type="button" className={frame.chip} style={{ marginTop: 8 }} onClick={() => change(hangBranch(design, 'line-filter', shelf))}>
        hang {own.length > 0 ? 'a second stage before it' : 'a line filter'}
      </button>
    </div>
  );
}

function OneFilter({ id, branch, figures, change }: { id: string; branch: Branch; figures: WithLoop; change: (next: ReturnType<typeof hangBranch>) => void }) {
  const design = useStore((s) => s.design);
  const shelf = useShelf();
  const { L, C, E } = slotsOf(id);
  const { values } = figures.sizing;
  const resistor = values[`${branch.damped === 'series' ? C : E} resistor`];
  const remark = branch.damped === 'parallel' && resistor ? dampingRemark(resistor.taken, resistor.wanted) : undefined;
  const value = (slot: string, unit: 'H' | 'F') => (
    <button type="button" className={frame.link} onClick={() => actions.select(slot)}>
      {slot} {values[slot] ? print(values[slot].taken, unit, 3) : ''}
    </button>
  );
  return (
    <section>
      <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
        Line filter {L}, {C}
        <button type="button" className={frame.link} aria-label={`Take the filter ${L}, ${C} away`} onClick={() => change(dropBranch(design, id))}>
          ✕
        </button>
      </h3>
      <div className={frame.row}>
        <span>{value(L, 'H')}</span>
        <span>{value(C, 'F')}</span>
        <span>{branch.damped === 'parallel' ? value(E, 'F') : null}</span>
      </div>
      <div className={frame.row}>
        <span className="muted">takes off at {print(design.brief.frequency, 'Hz', 3)}</span>
        <OverrideField path={`branches.${id}.attenuation`} unit="dB" label="taken off the ripple of the switching" computed={branch.attenuation ?? 40} suggested={40} />
      </div>
      <div className={frame.row}>
        <span className="muted">ripple left in the line</span>
        <span className="mono">{print(figures.duties[L]?.peakToPeak ?? NaN, 'A', 3)} pp</span>
      </div>
      <div className={frame.row}>
        <span className="muted">damped</span>
        <select className={frame.select} style={{ maxWidth: 160 }} aria-label={`Damping of ${L}, ${C}`} value={branch.damped ?? ''} onChange={(e) => change(dampBranch(design, id, (e.target.value || undefined) as Branch['damped'], shelf))}>
          {DAMPED.map((d) => (
            <option key={d.id} value={d.id}>
              {d.title}
            </option>
          ))}
        </select>
      </div>
      {resistor && (
        <div className={frame.row}>
          <span className="muted">by</span>
          <OverrideField path={`branches.${id}.resistance`} unit="Ω" label="damping resistance" computed={resistor.taken} suggested={resistor.suggested} />
        </div>
      )}
      {remark && <p className={css.fails} style={{ margin: '2px 0', lineHeight: 1.35 }}>{remark}.</p>}
      {branch.damped === 'parallel' && values[L] && values[C] && resistor && (
        <>
          <div className={frame.row}>
            <span className="muted">its capacitor, of the other</span>
            <OverrideField path={`branches.${id}.ratio`} unit="" label="damping capacitance over that damped" computed={branch.ratio ?? USUAL_RATIO} suggested={USUAL_RATIO} />
          </div>
          <PriceOfDamping ratio={branch.ratio ?? USUAL_RATIO} level={resistor.wanted} converter={figures.loop.front?.converter} />
        </>
      )}
    </section>
  );
}

const [WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [232, 104, 40, 8, 8, 20];
const RATIOS = Array.from({ length: 41 }, (_, k) => 0.25 * 40 ** (k / 40));

/** What a smaller damping capacitor costs: the peak of the impedance over its size, at its best resistance each. @param level Ω of the best resistance at `ratio` */
function PriceOfDamping({ ratio, level, converter }: { ratio: number; level: number; converter: number | undefined }) {
  // √(L/C) is in the best resistance already.
  const ohms = level / bestResistance(ratio);
  const peaks = RATIOS.map((n) => bestPeak(n) * ohms);
  const x = scaleLog([RATIOS[0]!, RATIOS.at(-1)!], [LEFT, WIDTH - RIGHT]);
  const y = scaleLinear([0, Math.max(...peaks.slice(6), converter !== undefined && converter < 3 * peaks[10]! ? converter * 1.1 : 0)], [HEIGHT - BOTTOM, TOP]);
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`Peak of the filter’s impedance over the size of its damping capacitor: ${print(bestPeak(ratio) * ohms, 'Ω', 3)} at ${ratio}`} style={{ display: 'block', marginTop: 4 }}>
      <clipPath id="price">
        <rect x={LEFT} y={TOP} width={WIDTH - LEFT - RIGHT} height={HEIGHT - TOP - BOTTOM} />
      </clipPath>
      <YAxis scale={y} unit="Ω" x0={LEFT} x1={WIDTH - RIGHT} count={3} />
      <g clipPath="url(#price)">
        <path d={tracePath(RATIOS, peaks, x, y)} fill="none" stroke="var(--rust)" strokeWidth={2} />
        {converter !== undefined && <line x1={LEFT} x2={WIDTH - RIGHT} y1={y(converter)} y2={y(converter)} stroke="var(--slate)" strokeDasharray="4 3" />}
      </g>
      <circle cx={x(Math.min(RATIOS.at(-1)!, Math.max(RATIOS[0]!, ratio)))} cy={y(bestPeak(ratio) * ohms)} r={4} fill="var(--rust)" />
      <g className={plots.mono} fill="var(--muted)">
        {[0.25, 1, 4, 10].map((n) => (
          <text key={n} x={x(n)} y={HEIGHT - 6} textAnchor={n === 10 ? 'end' : 'middle'}>
            {n}
          </text>
        ))}
      </g>
      <text x={WIDTH - RIGHT} y={TOP + 10} textAnchor="end" className={plots.label} fill="var(--muted)">
        peak over its capacitor
      </text>
    </svg>
  );
}
