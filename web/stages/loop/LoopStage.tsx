'use client';
import { useRef, useState } from 'react';
import { heldBy, networkRemark, SETTINGS, structureNamed, type Network } from '../../../core/control';
import { heldCommand } from '../../../core/control/held';
import type { WithLoop } from '../../../core/evaluation';
import { inWords } from '../../../core/problem';
import { printQuantity as print, printTyped } from '../../../core/quantity';
import { bandOf, type BodeCurve } from '../../../core/response/margins';
import frame from '../../frame/frame.module.css';
import { OverrideField, QuantityField } from '../../frame/QuantityField';
import { BodePlot, type DrawnCurve } from '../../plots/BodePlot';
import { keptStyle } from '../../plots/keptStyle';
import { NyquistPlot } from '../../plots/NyquistPlot';
import { marksOf } from '../../plots/marksOf';
import { SaveMenu } from '../../plots/SaveMenu';
import { saveController } from '../../state/session';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';
import { Cascade } from './Cascade';
import { CornersStrip } from './CornersStrip';
import { ForRegion } from './ForRegion';
import { InjectionLink, useInjection } from './Injection';
import { LayOver } from './LayOver';
import { Margins } from './Margins';
import { inPairs, NetworkRows } from './Network';
import { MeasuredList } from './MeasuredList';
import type { FrontCurves } from '../../../core/evaluation/front';
import { FrontView } from './FrontView';
import { maskCurve } from './maskCurve';
import { Places } from './Places';
import { ReadAt } from './ReadAt';
import { Reading } from './Reading';
import { Sampled } from './Sampled';
import { loopsShown, type ShownLoop } from './shownLoop';
import { StartUpPlot } from './StartUp';
import { CURVE, STEPS, StepPlot, stepTitle, type StepOf } from './StepPlot';

const TABS = [
  { id: 'loop', title: 'Loop' },
  { id: 'plant', title: 'Plant' },
  { id: 'compensator', title: 'Compensator' },
  { id: 'outputImpedance', title: 'Z out' },
  { id: 'inputImpedance', title: 'Z in' },
  { id: 'lineRejection', title: 'Line to out' },
] as const;

const GAIN_OF: Record<(typeof TABS)[number]['id'], string> = {
  loop: 'loop gain',
  plant: 'output over duty',
  compensator: 'error amplifier',
  outputImpedance: 'dB of an ohm, closed loop',
  lineRejection: 'closed loop',
  inputImpedance: 'dB of an ohm, as the line sees it, closed loop',
};

/** The loop, or why there is none, with what would mend it beside it. */
export function LoopStage() {
  const { figures } = useStore((s) => s.answers);
  const design = useStore((s) => s.design);
  if (figures!.loop) return <PlacedLoop figures={figures as WithLoop} />;
  return (
    <>
      <p>
        <b>The loop has no figures here.</b> {inWords(figures!.problems.loop!)}. Waveforms, losses and heat stand all the same.
      </p>
      <p>
        wanted crossover <QuantityField path="control.crossover" /> and phase margin <QuantityField path="control.phaseMargin" />{' '}
        <button type="button" className={frame.chip} onClick={() => actions.edit({ 'control.crossover': Number((design.control.crossover / 2).toPrecision(2)) })}>
          halve the crossover
        </button>
      </p>
    </>
  );
}

/** Bode plot with the compensator's corners to drag, margins, the load step, the network. */
function PlacedLoop({ figures: f }: { figures: WithLoop }) {
  const design = useStore((s) => s.design);
  const kept = useStore((s) => s.kept);
  const { fresh, corners, kept: keptFigures } = useStore((s) => s.answers);
  const [chosen, setTab] = useState<(typeof TABS)[number]['id'] | 'front'>('loop');
  const [stepOf, setStepOf] = useState<StepOf>('load');
  const [startChosen, setStart] = useState(false);
  const injection = useInjection();
  const [plane, setPlane] = useState(false);
  const [which, setWhich] = useState<ShownLoop['which']>('outer');
  const svg = useRef<SVGSVGElement>(null);
  const bode = f.detail!.bode!;
  const current = f.loop.outer !== undefined;
  const held = heldCommand(design.control) !== undefined;
  const tabs = TABS.filter((t) => bode[t.id]);
  const tab = chosen !== 'front' && bode[chosen] ? chosen : 'loop';
  const shown = bode[tab]!;
  const { averages, clocked } = structureNamed(design.control.method)!;
  const loops = loopsShown(design, f);
  const seen = loops.find((l) => l.which === which) ?? loops.at(-1)!;
  const { amplifier } = seen;
  const compared = f.detail!.measured ?? [];
  const steps = STEPS.filter((s) => f.detail![CURVE[s]]);
  const of: StepOf = steps.includes(stepOf) ? stepOf : 'load';
  const starts = design.brief.line.mains === undefined;
  const start = startChosen && starts;
  const curves: DrawnCurve[] = [
    ...kept.flatMap((k, i) => {
      const curve = k.visible ? keptFigures[k.id]?.detail?.bode?.[tab] : undefined;
      const { colour, dash } = keptStyle(i);
      return curve ? [{ curve, label: k.label, colour, dash }] : [];
    }),
    ...(tab === 'plant' && bode.averaged ? [{ curve: bode.averaged, label: 'averaged', colour: 'var(--muted)', dash: [1, 3] }] : []),
    ...(tab === 'compensator' && bode.continuous ? [{ curve: bode.continuous, label: 'continuous', colour: 'var(--muted)', dash: [1, 3] }] : []),
    ...(tab === 'loop' || tab === 'plant' ? compared.map((c): DrawnCurve => ({ curve: c[tab], label: c.title, colour: 'var(--ochre)', dash: [2, 3] })) : []),
    ...(tab === 'loop' && bode.inner ? [{ curve: bode.inner, label: 'inner', colour: 'var(--slate)' }] : []),
    ...(tab === 'loop' && bode.place ? [{ curve: bode.place, label: 'elsewhere', colour: 'var(--rust)' }] : []),
    ...(tab === 'outputImpedance' && design.brief.impedanceMask ? [{ curve: maskCurve(design.brief.impedanceMask), label: 'mask', colour: 'var(--fail)', dash: [4, 3] }] : []),
    { curve: shown, label: 'now', colour: 'var(--spruce)' },
  ];
  const overridden = seen.handles.map((h) => h.key).filter((k) => design.control[k] !== null);
  const front = chosen === 'front';
  const saved = front && bode.front ? frontColumns(bode.front) : columnsOf(shown);
  const head = (
    <div className={css.head}>
      <div className={css.tabs} style={{ gap: 4 }} role="tablist">
        {[...tabs, { id: 'front', title: 'Filter' } as const].map((t) => (
          <button key={t.id} type="button" role="tab" className={frame.chip} style={{ paddingInline: 7, fontSize: 12.5 }} aria-selected={t.id === (front ? 'front' : tab)} onClick={() => setTab(t.id)}>
            {t.title}
          </button>
        ))}
      </div>
      <SaveMenu svg={svg} name={front ? 'line-filter' : `bode-${tab}`} columns={() => saved} />
    </div>
  );
  if (front) return <FrontView figures={f} head={head} svg={svg} />;
  return (
    <div className={css.columns}>
      <div className={css.stack}>
        {head}
        <div style={{ display: 'flex', justifyContent: 'space-between', gap: 10 }}>
        <div className="muted" style={{ fontSize: 11.5, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {current ? 'current loop: ' : ''}{current && tab === 'plant' ? 'sensed current over duty' : !averages && tab === 'plant' ? 'output over command' : GAIN_OF[tab]}, {held ? 'a mean over the mains' : 'exact'}{tab === 'plant' && bode.averaged ? ' · dotted: averaged' : ''}{tab === 'compensator' && bode.continuous ? ' · dotted: what it stands for, not sampled' : ''}{tab === 'loop' && bode.inner ? ' · blue: inside' : ''}{tab === 'loop' && bode.place ? ' · red: elsewhere' : ''}{tab === 'outputImpedance' && design.brief.impedanceMask ? ' · red: its mask' : ''}{compared.length > 0 && (tab === 'loop' || tab === 'plant') ? ' · ochre: measured' : ''}{kept.length > 0 ? ' · dashed: kept' : ''}
          {tab === 'loop' ? ' · shade: corners' : ''} · grey: past fsw/2
        </div>
        {tab === 'loop' && (
          <button type="button" className={frame.link} style={{ fontSize: 12 }} aria-pressed={plane} title="The loop gain in the complex plane, about −1, or over the frequency" onClick={() => setPlane(!plane)}>
            {plane ? 'Bode' : 'Nyquist'}
          </button>
        )}
        {tab === 'loop' && !plane && !held && Number.isFinite(f.loop.crossover) && <InjectionLink injection={injection} crossover={f.loop.dip?.marginAt ?? f.loop.crossover} />}
        <LayOver />
        </div>
        <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, display: 'flex' }}>
          {plane && tab === 'loop' ? (
            <NyquistPlot svg={svg} closest={f.loop.closest} curves={curves.filter((c) => c.label !== 'inner' && c.label !== 'elsewhere').map(({ curve, colour, dash }) => ({ curve, colour, ...(dash ? { dash } : {}) }))} />
          ) : (
          <BodePlot
            points={tab === 'loop' ? injection.points : undefined}
            svg={svg}
            curves={curves}
            band={tab === 'loop' ? bandOf(corners?.corners.flatMap((c) => (c.bode ? [c.bode] : [])) ?? []) : undefined}
            flat={tab === 'loop' && seen.which === 'outer' ? f.loop.flat : undefined}
            nyquist={design.brief.frequency / 2}
            marks={tab === 'loop' ? marksOf(seen.figures) : undefined}
            strip={tab === 'loop' || tab === 'compensator' ? (x, y) => <CornersStrip x={x} y={y} wanted={seen.wanted} handles={seen.handles} /> : undefined}
          />
          )}
        </div>
      </div>
      <div className={css.tight}>
        {loops.length > 1 && <Cascade loops={loops} shown={seen} choose={setWhich} figures={f} />}
        <Places loop={f.loop} />
        <Margins loop={f.loop} corners={corners} design={design} lost={f.loop.lost !== undefined} />
        <h3>
          {start ? 'From' : 'After a'}{' '}
          {steps.length > 1 ? (
            <select className={frame.select} aria-label="Step" style={{ width: 'auto', maxWidth: 'none', fontSize: 12 }} value={start ? 'start' : of} onChange={(e) => (setStart(e.target.value === 'start'), e.target.value !== 'start' && setStepOf(e.target.value as StepOf))}>
              {steps.map((s) => (
                <option key={s} value={s}>
                  {stepTitle(s, f, design)}
                </option>
              ))}
              {starts && <option value="start">rest, switched on</option>}
            </select>
          ) : (
            stepTitle(of, f, design)
          )}
        </h3>
        {f.loop.outer && (
          <p className="muted" style={{ margin: 0, lineHeight: 1.35 }} data-testid="voltage-loop">
            answered by the voltage loop: {print(f.loop.outer.crossover, 'Hz', 2)} · {print(f.loop.outer.phaseMargin, '°', 2)}; the current is sensed by {print(f.loop.outer.senseResistance, 'Ω')}
          </p>
        )}
        {start ? <StartUpPlot /> : <StepPlot figures={f} of={of} />}
        {f.loop.drive.flatMap(({ key, title, unit, value, suggested, note }) => (key === undefined ? [] : [
          <div key={key} style={{ display: 'flex', justifyContent: 'space-between', marginTop: 8 }} data-testid={`drive-${key}`} title={note}>
            <span className="muted">{title}</span>
            <OverrideField path={`control.${key}`} unit={unit} label={SETTINGS[key]!.title} computed={value} suggested={suggested ?? value} />
          </div>,
        ]))}
        {clocked === false && (
          <div style={{ display: 'flex', justifyContent: 'space-between' }} data-testid="own-frequency" title="It has no clock: the frequency is what it takes">
            <span className="muted">switches here at</span>
            <span className="mono">{print(1 / f.cycle.period, 'Hz')}</span>
          </div>
        )}
        {f.loop.lost !== undefined && (
          <p className={css.fails} style={{ margin: 0, lineHeight: 1.35 }} data-testid="subharmonic">
            {f.loop.lost}
          </p>
        )}
        <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
          Compensator
          {overridden.length > 0 && (
            <button type="button" className={frame.link} onClick={() => actions.edit(Object.fromEntries(overridden.map((k) => [`control.${k}`, null])))}>
              place anew
            </button>
          )}
        </h3>
        <div className="row-muted" style={{ marginBottom: 3 }}>
          <span className="muted">placed for </span>
          {seen.which === 'inner' ? <OverrideField path={seen.crossover} unit="Hz" label={SETTINGS.innerCrossover!.title} computed={f.loop.inner!.asked.crossover} suggested={f.loop.inner!.asked.crossover} /> : <QuantityField path={seen.crossover} />} <span className="muted">and</span> <QuantityField path={seen.phaseMargin} />
        </div>
        {seen.figures.short && (
          <p className={css.fails} style={{ margin: '0 0 3px', lineHeight: 1.35 }} data-testid="short">
            Less of the margin than asked: {inWords(seen.figures.short)}.
          </p>
        )}
        <ForRegion />
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '0 14px', gridAutoFlow: 'dense' }}>
        {inPairs(seen.handles).map(({ key, name, kind }) => (
          <div key={key} style={{ display: 'flex', justifyContent: 'space-between', gridColumn: design.control[key] === null && kind !== 'gain' ? undefined : 'span 2' }} data-testid={`corner-${key}`}>
            <span className="muted">{kind === 'gain' ? `${SETTINGS[key]!.title} ${name}` : name}</span>
            <OverrideField path={`control.${key}`} unit="Hz" label={kind === 'gain' ? `${SETTINGS[key]!.title} ${name}` : name} computed={seen.wanted[key]!} suggested={seen.placed[key]!} />
          </div>
        ))}
        </div>
        {seen.figures.sampled ? (
          <Sampled figures={f} sampled={seen.figures.sampled} outermost={seen.which === 'outer'} saveC={() => saveController(seen.title, seen.figures.sampled)} />
        ) : (
        <>
        <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
          {amplifier.title}
          <label style={{ fontWeight: 400 }}>
            <input type="checkbox" checked={design.control.rounded} onChange={(e) => actions.edit({ 'control.rounded': e.target.checked })} style={{ verticalAlign: -2 }} /> {amplifier.series}
          </label>
        </h3>
        <NetworkRows network={seen.figures.network} />
        {seen.which === 'outer' && !f.loop.outer && (
          <div style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }} title="what the divider in preferred values holds the output at">
            <span className="muted">holds the output at</span>
            <span className="mono" style={{ fontSize: 11 }} data-testid="held">{print(heldBy(f.loop.network.divider, design.control.reference), 'V', 4)} ({signed(heldBy(f.loop.network.divider, design.control.reference) / design.brief.output.voltage - 1)})</span>
          </div>
        )}
        {seen.which === 'outer' && <Remark network={f.loop.network} />}
        {f.loop.spread && seen.which === 'outer' && (
          <p className="muted" style={{ margin: '4px 0 0', lineHeight: 1.35 }} data-testid="spread">
            With a gain {print(f.loop.spread.share, '%', 2)} less or more: {print(f.loop.spread.least.crossover, 'Hz')} · {print(f.loop.spread.least.phaseMargin, '°')} to {print(f.loop.spread.most.crossover, 'Hz')} · {print(f.loop.spread.most.phaseMargin, '°')}
          </p>
        )}
        </>
        )}
        <MeasuredList compared={compared} />
        <Reading loop={f.loop} />
        <ReadAt curve={shown} name={`bode-${tab}`} />
      </div>
    </div>
  );
}

/** "+0.4 %" */
const signed = (share: number): string => `${share < 0 ? '−' : '+'}${(100 * Math.abs(share)).toFixed(1)} %`;

/** What is unusual about a network, with what scales it a click away. */
function Remark({ network }: { network: Network }) {
  const control = useStore((s) => s.design.control);
  const found = networkRemark(network, control[network.scaledBy ?? ''] as number);
  if (!found) return null;
  const { change } = found;
  return (
    <p className="muted" style={{ margin: '4px 0 0', lineHeight: 1.35 }} data-testid="network-remark">
      {found.text}.{' '}
      {change && (
        <button type="button" className={frame.link} onClick={() => actions.edit({ [`control.${change.key}`]: change.value })}>
          {SETTINGS[change.key]!.title} {printTyped(change.value, SETTINGS[change.key]!.unit)}
        </button>
      )}
    </p>
  );
}


const frontColumns = ({ filter, converter }: FrontCurves): Record<string, readonly number[]> => ({ 'frequency (Hz)': filter.frequency, 'filter (dB Ω)': filter.gain, 'filter (°)': filter.phase, 'converter (dB Ω)': converter.gain, 'converter (°)': converter.phase });

const columnsOf = (c: BodeCurve): Record<string, readonly number[]> => ({ 'frequency (Hz)': c.frequency, 'gain (dB)': c.gain, 'phase (°)': c.phase });
