'use client';
import { useRef, useState } from 'react';
import { AMPLIFIERS, amplifierNamed, DISCRETISATIONS, SETTINGS } from '../../core/control';
import type { PlantFigures } from '../../core/plant';
import { inWords } from '../../core/problem';
import { printQuantity as print, type UnitName } from '../../core/quantity';
import type { BodeCurve, MarginFigure } from '../../core/response/margins';
import { useEdited } from '../frame/edited';
import frame from '../frame/frame.module.css';
import { OverrideField, QuantityField } from '../frame/QuantityField';
import { BodePlot, type DrawnCurve } from '../plots/BodePlot';
import { NyquistPlot } from '../plots/NyquistPlot';
import { marksOf } from '../plots/marksOf';
import { SaveMenu } from '../plots/SaveMenu';
import { CornersStrip } from '../stages/loop/CornersStrip';
import { inPairs, NetworkRows } from '../stages/loop/Network';
import { Crossovers, Dip } from '../stages/loop/Reading';
import stages from '../stages/stages.module.css';

const TABS = [
  { id: 'loop', title: 'Loop' },
  { id: 'plant', title: 'Plant' },
  { id: 'compensator', title: 'Compensator' },
] as const;

const ROWS: { key: MarginFigure; title: string; unit: UnitName }[] = [
  { key: 'phaseMargin', title: 'phase margin', unit: '°' },
  { key: 'gainMargin', title: 'gain margin', unit: 'dB' },
  { key: 'crossover', title: 'crossover', unit: 'Hz' },
  { key: 'delayMargin', title: 'delay margin', unit: 's' },
  { key: 'closest', title: 'closest to −1', unit: '' },
];

const WIDE = { width: 165, maxWidth: 'none' };

/** Colours and dashes of the measurements that are not placed on */
const OTHERS = [
  { colour: 'var(--ochre)', dash: [6, 3] },
  { colour: 'var(--slate)', dash: [2, 2.5] },
  { colour: 'var(--plum)', dash: [9, 3, 2, 3] },
];

/** The loop on each measured plant, with the controller's corners to drag, and what it is made of. */
export function PlantLoop({ figures: f, fresh }: { figures: PlantFigures; fresh: boolean }) {
  const document = useEdited();
  const [tab, setTab] = useState<(typeof TABS)[number]['id']>('loop');
  const [plane, setPlane] = useState(false);
  const svg = useRef<SVGSVGElement>(null);
  const amplifierId = document.useAt('control.amplifier') as string;
  const sampled = document.useAt('control.sampled') as string;
  const rounded = document.useAt('control.rounded') as boolean;
  const frequency = document.useAt('frequency') as number;
  const amplifier = amplifierNamed(amplifierId)!;
  const placed = f.loops.find((l) => l.title === f.on)!;
  const { margins } = placed;
  const curves: DrawnCurve[] =
    tab === 'compensator'
      ? [...(f.continuous ? [{ curve: f.continuous, label: 'continuous', colour: 'var(--muted)', dash: [1, 3] }] : []), { curve: f.compensator, label: 'now', colour: 'var(--spruce)' }]
      : [...f.loops.filter((l) => l !== placed).map((l, k): DrawnCurve => ({ curve: l[tab], label: l.title, ...OTHERS[k % OTHERS.length]! })), { curve: placed[tab], label: placed.title, colour: 'var(--spruce)' }];
  const text = (v: number, unit: UnitName): string => (Number.isFinite(v) ? print(v, unit, unit === '' ? 2 : 3) : v === Infinity ? 'none' : '–');
  const overridden = amplifier.handles.map((h) => h.key).filter((k) => document.at(`control.${k}`) !== null);
  const inTheWay = (key: string): boolean => document.at(`control.${key}`) === null;
  return (
    <div className={stages.columns}>
      <div className={stages.stack}>
        <div className={stages.head}>
          <div className={stages.tabs} role="tablist">
            {TABS.map((t) => (
              <button key={t.id} type="button" role="tab" className={frame.chip} aria-selected={tab === t.id} onClick={() => setTab(t.id)}>
                {t.title}
              </button>
            ))}
          </div>
          <SaveMenu svg={svg} name={`plant-${tab}`} columns={() => columnsOf(curves.at(-1)!.curve)} />
        </div>
        <div style={{ display: 'flex', justifyContent: 'space-between', gap: 10 }}>
          <span className="muted" style={{ fontSize: 11.5 }}>
            {tab === 'loop' ? 'measured plant times controller' : tab === 'plant' ? 'as it was measured, from the command to the output' : 'controller'}
            {f.loops.length > 1 && tab !== 'compensator' ? ` · full: ${placed.title}` : ''}
          </span>
          {tab === 'loop' && (
            <button type="button" className={frame.link} style={{ fontSize: 12 }} aria-pressed={plane} onClick={() => setPlane(!plane)}>
              {plane ? 'Bode' : 'Nyquist'}
            </button>
          )}
        </div>
        <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, display: 'flex' }}>
          {plane && tab === 'loop' ? (
            <NyquistPlot svg={svg} closest={margins.closest} curves={curves.map(({ curve, colour, dash }) => ({ curve, colour, ...(dash ? { dash } : {}) }))} />
          ) : (
            <BodePlot
              svg={svg}
              curves={curves}
              nyquist={frequency / 2}
              marks={tab === 'loop' ? marksOf(margins) : undefined}
              strip={tab === 'plant' ? undefined : (x, y) => <CornersStrip x={x} y={y} wanted={f.wanted} handles={amplifier.handles} />}
            />
          )}
        </div>
      </div>
      <div className={`${stages.tight} ${fresh ? '' : 'stale'}`}>
        <table style={{ width: '100%' }} data-testid="margins">
          <thead>
            <tr>
              <th style={{ textAlign: 'left', fontWeight: 650 }}>Margins</th>
              <th className={stages.number} style={{ fontWeight: 400, color: 'var(--muted)' }}>
                here{f.loops.length > 1 ? ' / least' : ''}
              </th>
            </tr>
          </thead>
          <tbody>
            {ROWS.map(({ key, title, unit }) => (
              <tr key={key}>
                <td className="muted" style={{ padding: 0 }}>{title}</td>
                <td className={stages.number} data-testid={`margin-${key}`}>
                  {text(margins[key], unit)}
                  {f.loops.length > 1 ? ` / ${text(f.least[key], unit)}` : ''}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <Crossovers loop={margins} />
        <Dip loop={margins} />
        <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
          Controller
          {overridden.length > 0 && (
            <button type="button" className={frame.link} onClick={() => document.edit(Object.fromEntries(overridden.map((k) => [`control.${k}`, null])))}>
              place anew
            </button>
          )}
        </h3>
        <div>
          <span className="muted">placed for</span> <QuantityField path="control.crossover" /> <span className="muted">and</span> <QuantityField path="control.phaseMargin" />
        </div>
        {f.short && <p className={stages.fails} style={{ margin: 0 }}>Less of the margin than asked: {inWords(f.short)}.</p>}
        <Row label="amplifier">
          <select className={frame.select} style={WIDE} aria-label="Error amplifier" value={amplifierId} onChange={(e) => document.edit({ 'control.amplifier': e.target.value })}>
            {AMPLIFIERS.map((a) => (
              <option key={a.id} value={a.id}>
                {a.title}
              </option>
            ))}
          </select>
        </Row>
        <Row label="realised as">
          <select className={frame.select} style={WIDE} aria-label="Realised as" value={sampled} onChange={(e) => document.edit({ 'control.sampled': e.target.value })}>
            <option value="none">a network</option>
            {DISCRETISATIONS.map((m) => (
              <option key={m.id} value={m.id}>
                sampled, {m.title}
              </option>
            ))}
          </select>
        </Row>
        {inPairs(amplifier.handles).map(({ key, name, kind }) => (
          <div key={key} style={{ display: 'flex', justifyContent: 'space-between' }} data-testid={`corner-${key}`} data-placed={inTheWay(key)}>
            <span className="muted">{kind === 'gain' ? `${SETTINGS[key]!.title} ${name}` : name}</span>
            <OverrideField path={`control.${key}`} unit="Hz" label={SETTINGS[key]!.title} computed={f.wanted[key]!} suggested={f.placed[key]!} />
          </div>
        ))}
        {f.sampled ? (
          <section data-testid="sampled">
            <h3>Sampled once a period</h3>
            <Row label="computes for"><QuantityField path="control.computing" /></Row>
            <Row label="costs"><b data-testid="sampled-costs" className="mono">{print(f.sampled.costs, '°')}</b></Row>
            <Row label="b, of the error"><span className="mono">{f.sampled.numerator.map((v) => v.toPrecision(5)).join('  ')}</span></Row>
            <Row label="a, of the output"><span className="mono">{f.sampled.denominator.map((v) => Number(v.toPrecision(5))).join('  ')}</span></Row>
            {f.sampled.problem && <p className={stages.fails} style={{ margin: 0 }}>{inWords(f.sampled.problem)}</p>}
          </section>
        ) : (
          <section data-testid="network">
            <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
              {amplifier.title}
              <label style={{ fontWeight: 400 }}>
                <input type="checkbox" checked={rounded} onChange={(e) => document.edit({ 'control.rounded': e.target.checked })} style={{ verticalAlign: -2 }} /> {amplifier.series}
              </label>
            </h3>
            <NetworkRows network={f.network} />
          </section>
        )}
        <Row label="reference"><QuantityField path="control.reference" /></Row>
      </div>
    </div>
  );
}

const Row = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }}>
    <span className="muted" style={{ whiteSpace: 'nowrap' }}>{label}</span>
    <span style={{ textAlign: 'right' }}>{children}</span>
  </div>
);

const columnsOf = (c: BodeCurve): Record<string, readonly number[]> => ({ 'frequency (Hz)': c.frequency, 'gain (dB)': c.gain, 'phase (°)': c.phase });
