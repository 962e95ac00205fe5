'use client';
import { bin, scaleLinear } from 'd3';
import { useMemo, useState } from 'react';
import { meets, requirementNamed } from '../../../core/corners/requirements';
import { spreadOf, worstOf, type Draw, type Tolerance } from '../../../core/corners/spread';
import type { Design, RequirementId } from '../../../core/design';
import type { Result } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { spreadActions, useSpread } from '../../state/spread';
import { actions, useStore } from '../../state/store';
import { jobs } from '../../workers/pool';
import { useAsked, type Engine } from '../../workers/useAsked';
import css from '../stages.module.css';
import { UnderWay } from '../UnderWay';
import { MarginCloud } from './MarginCloud';
import type { useRegion } from './RegionOf';
import { Tolerances } from './Tolerances';

const askTolerances = (engine: Engine, design: Design): Promise<Result<Tolerance[]>> => engine.tolerancesOf(design);

/** Values that matter that are shown; draws when nobody says, and at most */
const [SHOWN, USUAL, MOST] = [6, 200, 20_000];

/** Parts as they come: so many designs drawn within the tolerances of their values, each judged where its requirements are at their worst. */
export function SpreadView({ region }: { region: ReturnType<typeof useRegion> }) {
  const design = useStore((s) => s.design);
  const { design: of, draws, tolerances: drawnWithin, of: count, under, failed } = useSpread();
  const args = useMemo((): [Design] => [design], [design]);
  const tolerances = useAsked(askTolerances, args)?.value ?? [];
  const fresh = of === design;
  const [typed, setTyped] = useState(String(USUAL));
  const asked = Number(typed);
  const sound = Number.isInteger(asked) && asked >= 2 && asked <= MOST;
  const found = of && draws.length > 1 ? spreadOf(drawnWithin, draws) : undefined;
  // A draw becomes a kept state, to be looked at on every stage, branched from or taken.
  const open = async (draw: Draw): Promise<void> => {
    const alone = await jobs().at('asked').drawnDesign(of!, drawnWithin, draw.off);
    if (alone.ok) actions.keepOther(`draw ${draw.index + 1}`, { ...alone.value, name: of!.name });
    else actions.refuse(alone.problem);
  };
  return (
    <div data-testid="spread">
      <div className={css.tabs} style={{ marginBottom: 8, alignItems: 'center' }}>
        <button type="button" className={frame.chip} disabled={!region?.fresh || !sound} onClick={() => void spreadActions.draw(design, region!.verdict, asked)}>
          draw
        </button>
        <input className={css.search} style={{ width: 84 }} type="number" min={2} max={MOST} step={1} aria-label="How many are drawn" aria-invalid={!sound} value={typed} onChange={(e) => setTyped(e.target.value)} />
        {!sound && <span className={css.fails}>give 2 to {MOST.toLocaleString('en')}</span>}
        {under && (
          <UnderWay stop={spreadActions.stop}>{draws.length} of {count}</UnderWay>
        )}
        {!region?.fresh && <span className="muted">the region is being searched first</span>}
      </div>
      {failed && <p className={css.fails}>{failed}</p>}
      {!found && !under && <p className="muted">{tolerances.length} values of parts and of the compensator’s network are drawn within their tolerances. Nothing is sized or placed again.</p>}
      {!under && <Tolerances tolerances={tolerances} />}
      {found && (
        <div className={fresh ? '' : 'stale'}>
          <h2 style={{ margin: '0 0 6px' }}>
            {print(found.yield.share, '%', 3)} hold{' '}
            <span className="muted" style={{ fontWeight: 400 }}>
              {found.holding} of {found.draws}; 95 times of 100 within {print(found.yield.low, '%', 3)} and {print(found.yield.high, '%', 3)}
            </span>
          </h2>
          {found.tightest && found.matters.length > 1 && (
            <p className="muted" style={{ margin: '0 0 4px' }}>
              The {requirementNamed(found.tightest).title} spreads mostly by {found.matters.slice(0, 2).map((m) => `${m.title} (${print(m.share, '%', 2)})`).join(' and ')}.
            </p>
          )}
          <table className={css.list}>
            <tbody>
              {found.requirements.map((r) => (
                <tr key={r.id}>
                  <td>
                    {requirementNamed(r.id).title}
                    <div className={r.failing > 0 ? css.fails : 'muted'} style={{ fontSize: 11.5 }}>
                      {r.failing > 0 ? `${r.failing} fail` : 'all hold'}
                    </div>
                  </td>
                  <td style={{ width: 250 }}>
                    <Histogram id={r.id} draws={draws} limit={of!.requirements[r.id].limit} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <h3>Crossover and phase margin of every draw, where it is least</h3>
          <MarginCloud draws={draws} limit={of!.requirements.phaseMargin.on ? of!.requirements.phaseMargin.limit : undefined} open={(d) => void open(d)} />
          <p style={{ margin: '2px 0 4px' }}>
            <button type="button" className={frame.link} onClick={() => void open(worstOf(draws)!)}>
              Lay the worst of them over the plots
            </button>{' '}
            <span className="muted">or click one above.</span>
          </p>
          {found.tightest && (
            <>
              <h3>What the {requirementNamed(found.tightest).title} spreads by</h3>
              {found.matters.slice(0, SHOWN).map((m) => (
                <div className={frame.row} key={m.path}>
                  <span>
                    {m.title} <span className="muted">±{print(tolerances.find((t) => t.path === m.path)?.share ?? 0, '%', 2)}</span>
                  </span>
                  <span className="mono">{print(m.share, '%', 2)}</span>
                </div>
              ))}
            </>
          )}
        </div>
      )}
    </div>
  );
}

const [WIDTH, HEIGHT, BINS] = [250, 40, 24];

/** How often a figure was drawn, against its limit. */
function Histogram({ id, draws, limit }: { id: RequirementId; draws: readonly Draw[]; limit: number }) {
  const { unit, title } = requirementNamed(id);
  const values = draws.flatMap((d) => (Number.isFinite(d.value[id]) ? [d.value[id]!] : []));
  if (values.length === 0) return <span className="muted">no figures</span>;
  const [low, high] = [Math.min(...values, limit), Math.max(...values, limit)];
  const x = scaleLinear([low, high === low ? low + 1 : high], [4, WIDTH - 4]);
  const bins = bin().domain(x.domain() as [number, number]).thresholds(BINS)(values);
  const most = Math.max(...bins.map((b) => b.length));
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`${title}: ${print(Math.min(...values), unit)} to ${print(Math.max(...values), unit)}`}>
      {bins.map((b) => (
        <rect key={b.x0} x={x(b.x0!) + 0.5} y={26 - (22 * b.length) / most} width={Math.max(1, x(b.x1!) - x(b.x0!) - 1)} height={(22 * b.length) / most} fill={meets(id, limit, (b.x0! + b.x1!) / 2) ? 'var(--spruce)' : 'var(--fail)'} />
      ))}
      <line x1={4} x2={WIDTH - 4} y1={26.5} y2={26.5} stroke="var(--line)" />
      <line x1={x(limit)} x2={x(limit)} y1={2} y2={30} stroke="var(--ink)" strokeDasharray="3 2" />
      <text x={x(limit) > WIDTH / 2 ? WIDTH - 4 : 4} y={38} textAnchor={x(limit) > WIDTH / 2 ? 'end' : 'start'} fontSize={10} fill="var(--muted)">
        limit {print(limit, unit, 3)}
      </text>
      <text x={x(limit) > WIDTH / 2 ? 4 : WIDTH - 4} y={38} textAnchor={x(limit) > WIDTH / 2 ? 'start' : 'end'} fontSize={10} fill="var(--muted)">
        {print(Math.min(...values), unit, 3)} to {print(Math.max(...values), unit, 3)}
      </text>
    </svg>
  );
}
