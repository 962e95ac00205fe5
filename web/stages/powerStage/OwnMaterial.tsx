'use client';
import { line, scaleLog } from 'd3';
import { useState } from 'react';
import type { Material } from '../../../core/parts/goods';
import { fitSteinmetz, readLossPoints, type LossPoint, type MaterialFit } from '../../../core/parts/materialFit';
import type { Problem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { LogXAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { keepParts } from '../../state/shelf';
import { actions } from '../../state/store';
import css from '../stages.module.css';
import { OntoShelf } from './OwnGoods';

const [WIDTH, HEIGHT, LEFT, BOTTOM] = [262, 150, 44, 22];
const COLOURS = ['var(--spruce)', 'var(--slate)', 'var(--plum)', 'var(--ochre)'];

/** A core material of one's own, from a few points of the curve that its maker gives: fitted as they are typed, the misfit drawn. */
export function OwnMaterial({ like }: { like: Material }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [name, setName] = useState('');
  const [permeability, setPermeability] = useState(String(like.permeability));
  const [full, setFull] = useState(String(like.maxFluxDensity * 1000));
  if (!open)
    return (
      <button type="button" className={frame.link} onClick={() => setOpen(true)}>
        one of your own, from points
      </button>
    );
  const read = readLossPoints(text);
  const fit = read.ok ? fitSteinmetz(read.value) : read;
  const problem: Problem | undefined = text.trim() === '' || fit.ok ? undefined : fit.problem;
  const [mu, tesla] = [Number(permeability), Number(full) / 1000];
  const able = fit.ok && name.trim() !== '' && mu >= 1 && tesla > 0;
  const save = async (): Promise<void> => {
    if (!fit.ok) return;
    const { k, alpha, beta } = fit.value.steinmetz;
    const round = (v: number): number => Number(v.toPrecision(5));
    await keepParts([{ kind: 'material', part: name.trim().slice(0, 80), permeability: mu, maxFluxDensity: tesla, steinmetz: { k: round(k), alpha: round(alpha), beta: round(beta) } }]);
    actions.notify(`${name.trim()} is on your shelf`);
    setOpen(false);
  };
  const field = (label: string, value: string, set: (v: string) => void, width = 80) => (
    <label className={frame.row}>
      <span>{label}</span>
      <input className={frame.select} style={{ width }} aria-label={label} value={value} onChange={(e) => set(e.target.value)} />
    </label>
  );
  return (
    <div data-testid="own-material">
      <h3>A material of your own</h3>
      {field('its name', name, setName, 150)}
      {field('permeability', permeability, setPermeability)}
      {field('full at, mT', full, setFull)}
      <label>
        <span className="muted">kHz, mT of amplitude, kW/m³: a point a line</span>
        <textarea className={frame.select} style={{ width: '100%', maxWidth: 'none', boxSizing: 'border-box', height: 92, fontFamily: 'var(--mono, monospace)', fontSize: 12 }} aria-label="Points of its loss" value={text} onChange={(e) => setText(e.target.value)} placeholder={'100 100 45\n100 200 300\n200 100 120'} spellCheck={false} />
      </label>
      {problem && <p className={css.fails} style={{ margin: '4px 0' }}>{`${problem.where === 'points' ? '' : `${problem.where}: `}${problem.message}: ${problem.remedy}`}</p>}
      {read.ok && fit.ok && (
        <>
          <p style={{ margin: '4px 0' }} data-testid="material-fit">
            <span className="mono">
              {fit.value.steinmetz.k.toPrecision(3)} f^{fit.value.steinmetz.alpha.toPrecision(3)} B^{fit.value.steinmetz.beta.toPrecision(3)}
            </span>
            , off by {print(fit.value.misfit, '%', 2)} rms, at most {print(Math.abs(fit.value.worst.share), '%', 2)} at {print(fit.value.worst.point.frequency, 'Hz', 2)}, {print(fit.value.worst.point.amplitude, 'T', 2)}
          </p>
          <Fitted points={read.value} fit={fit.value} />
        </>
      )}
      <OntoShelf able={able} save={() => void save()} close={() => setOpen(false)} />
    </div>
  );
}

/** Points and the fit through them, a line a frequency: loss over amplitude. */
function Fitted({ points, fit }: { points: readonly LossPoint[]; fit: MaterialFit }) {
  const frequencies = [...new Set(points.map((p) => p.frequency))].toSorted((a, b) => a - b).slice(0, COLOURS.length);
  const span = (of: (p: LossPoint) => number, room: number): [number, number] => [Math.min(...points.map(of)) / room, Math.max(...points.map(of)) * room];
  const x = scaleLog(span((p) => p.amplitude, 1.15), [LEFT, WIDTH - 40]);
  const y = scaleLog(span((p) => p.loss, 1.4), [HEIGHT - BOTTOM, 6]);
  const { k, alpha, beta } = fit.steinmetz;
  const at = (f: number, b: number): number => k * f ** alpha * b ** beta;
  const [low, high] = x.domain() as [number, number];
  const decades = Array.from({ length: 12 }, (_, i) => 10 ** (i + 1)).filter((v) => v >= y.domain()[0]! && v <= y.domain()[1]!);
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label="The points and the fit">
      <LogXAxis scale={x} y0={6} y1={HEIGHT - BOTTOM} labels={false} />
      {decades.map((v) => (
        <g key={v}>
          <line x1={LEFT} x2={WIDTH - 40} y1={y(v)} y2={y(v)} stroke="var(--line)" />
          <text x={LEFT - 4} y={y(v) + 4} textAnchor="end" className={plots.mono} fill="var(--muted)">
            {print(v, 'W', 1).replace(' ', '')}
          </text>
        </g>
      ))}
      <text x={LEFT} y={HEIGHT - 6} className={plots.mono} fill="var(--muted)">{print(low, 'T', 2)}</text>
      <text x={WIDTH - 40} y={HEIGHT - 6} textAnchor="end" className={plots.mono} fill="var(--muted)">{print(high, 'T', 2)}</text>
      {frequencies.map((f, i) => (
        <g key={f}>
          <path d={line<number>((b) => x(b), (b) => y(at(f, b)))([low, high])!} stroke={COLOURS[i]} strokeWidth={1.5} fill="none" />
          {points.filter((p) => p.frequency === f).map((p) => (
            <circle key={`${p.amplitude} ${p.loss}`} cx={x(p.amplitude)} cy={y(p.loss)} r={2.6} fill={COLOURS[i]} />
          ))}
          <text x={WIDTH - 37} y={Math.max(10, y(at(f, high)) + 4)} className={plots.mono} fill={COLOURS[i]}>
            {print(f, 'Hz', 2).replace(/\.0 /, ' ').replace(' kHz', 'k')}
          </text>
        </g>
      ))}
    </svg>
  );
}
