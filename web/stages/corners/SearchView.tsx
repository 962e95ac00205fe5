'use client';
import { useMemo, useState } from 'react';
import { designAt, saidOf, standsAt, valueOf, type Freedom, type Offered } from '../../../core/corners/freedoms';
import { REQUIREMENTS, requirementNamed } from '../../../core/corners/requirements';
import type { Aim, SearchAsked, SearchFound, Tried } from '../../../core/corners/search';
import { fieldAt, type Design, type RequirementId } from '../../../core/design';
import { inWords, type Result } from '../../../core/problem';
import { parseQuantity, printQuantity as print, printTyped } from '../../../core/quantity';
import type { Part } from '../../../core/parts/schema';
import frame from '../../frame/frame.module.css';
import { searchActions, useSearch } from '../../state/search';
import { actions, useStore } from '../../state/store';
import { useAsked, type Engine } from '../../workers/useAsked';
import css from '../stages.module.css';
import { UnderWay } from '../UnderWay';
import { FrontPlot } from './FrontPlot';
import type { useRegion } from './RegionOf';

const askOffered = (engine: Engine, design: Design, own: readonly Part[]): Promise<Result<Offered[]>> => engine.freedomsOffered(design, own);

/** Designs judged when nobody says */
const TRIALS = 240;
const AIMS: { id: Aim; title: string; unit: 'W' | 'm' | '' }[] = [
  { id: 'loss', title: 'loss', unit: 'W' },
  { id: 'cost', title: 'cost', unit: '' },
  { id: 'height', title: 'height', unit: 'm' },
];
const aimTitle = (a: Aim): string => AIMS.find((x) => x.id === a)?.title ?? requirementNamed(a as RequirementId).title;
export const aimText = (a: Aim, v: number): string => {
  const own = AIMS.find((x) => x.id === a);
  return own ? (own.unit === '' ? v.toLocaleString('en', { maximumSignificantDigits: 3 }) : print(v, own.unit, 3)) : print(-v, '%', 2);
};

/** Values within bounds, until every requirement holds in the whole region and what is aimed at is least. */
export function SearchView({ region }: { region: ReturnType<typeof useRegion> }) {
  const design = useStore((s) => s.design);
  const own = useStore((s) => s.ownParts);
  const args = useMemo((): [Design, readonly Part[]] => [design, own], [design, own]);
  const offered = useAsked(askOffered, args)?.value;
  const [chosen, setChosen] = useState<Readonly<Record<string, boolean>>>({});
  const [bounds, setBounds] = useState<Readonly<Record<string, { min: number; max: number }>>>({});
  const [aims, setAims] = useState<readonly Aim[]>([]);
  const [by, setBy] = useState<SearchAsked['by']>('front');
  const [seed, setSeed] = useState(1);
  const { design: of, asked, found, under, failed } = useSearch();
  const free = (o: Offered): boolean => chosen[o.freedom.path] ?? o.usual;
  const withBounds = ({ freedom }: Offered): Freedom => {
    const b = bounds[freedom.path];
    return b && freedom.kind !== 'parts' ? { ...freedom, ...b } : freedom;
  };
  const begin = (): void => {
    const freedoms = (offered ?? []).filter(free).map(withBounds);
    void searchActions.begin(design, region!.verdict, { freedoms, aims, by, ...(by === 'weights' ? { weights: aims.map(() => 1) } : {}), seed, trials: TRIALS });
  };
  return (
    <div data-testid="search">
      <div className={css.tabs} style={{ marginBottom: 6, alignItems: 'baseline' }}>
        <button type="button" className={frame.chip} disabled={!region?.fresh || !offered} onClick={begin}>
          search
        </button>
        <span className="muted">until all holds{aims.length > 0 ? ', then least' : '; least'}</span>
        {AIMS.map((a) => (
          <button key={a.id} type="button" className={frame.chip} aria-pressed={aims.includes(a.id)} onClick={() => setAims(aims.includes(a.id) ? aims.filter((x) => x !== a.id) : [...aims, a.id])}>
            {a.title}
          </button>
        ))}
        {aims.length > 1 && (
          <select className={frame.select} aria-label="Of several aims" value={by} onChange={(e) => setBy(e.target.value as SearchAsked['by'])}>
            <option value="front">what trades</option>
            <option value="order">in this order</option>
            <option value="weights">weighed alike</option>
          </select>
        )}
        <label className="muted">
          seed <input className={css.search} style={{ width: 52 }} type="number" min={0} step={1} value={seed} onChange={(e) => setSeed(Math.max(0, Math.floor(Number(e.target.value) || 0)))} />
        </label>
        {under && (
          <UnderWay stop={searchActions.stop}>{found?.tried ?? 0} judged</UnderWay>
        )}
      </div>
      {failed && <p className={css.fails} role="alert">{failed}</p>}
      {!found && (
        <>
          <h3>Free to change</h3>
          {!offered && <p className="muted" role="status">Looking what can be free …</p>}
          {offered?.toSorted((a, b) => Number(b.usual) - Number(a.usual)).map((o) => (
            <div className={frame.row} key={o.freedom.path}>
              <label>
                <input type="checkbox" checked={free(o)} onChange={(e) => setChosen({ ...chosen, [o.freedom.path]: e.target.checked })} /> {o.title}
              </label>
              <span className="mono" style={{ fontSize: 12 }}>
                {o.freedom.kind === 'parts' ? `${o.freedom.parts.length} of the shelf` : free(o) ? <Bounds offered={o} now={bounds[o.freedom.path] ?? o.freedom} set={(b) => setBounds({ ...bounds, [o.freedom.path]: b })} /> : `now ${saidOf(o.freedom, standsAt(design, o.freedom.path)!)}`}
              </span>
            </div>
          ))}
        </>
      )}
      {found && asked && of && <Found found={found} asked={asked} of={of} fresh={of === design} under={under} />}
    </div>
  );
}

/** "L1 inductance", "wanted crossover", "C2" where another part may stand there. */
function titleOf({ path }: Freedom): string {
  const [room, slot] = path.split('.');
  const title = fieldAt(path)?.title;
  return room !== 'parts' ? (title ?? path) : title === undefined ? slot! : `${slot!} ${title}`;
}

/** From where to where a value may go, typed with units. */
function Bounds({ offered: { unit, freedom }, now, set }: { offered: Offered; now: { min: number; max: number }; set: (b: { min: number; max: number }) => void }) {
  const field = (key: 'min' | 'max') => (
    <input
      key={`${key} ${now[key]}`}
      className={css.search}
      style={{ width: 76, textAlign: 'right' }}
      aria-label={`${freedom.path} ${key === 'min' ? 'at least' : 'at most'}`}
      defaultValue={printTyped(now[key], unit, 4)}
      onBlur={(e) => {
        const read = parseQuantity(e.target.value, unit, freedom.path);
        if (read.ok) set({ ...now, [key]: read.value });
        else e.target.value = printTyped(now[key], unit, 4);
      }}
    />
  );
  return (
    <>
      {field('min')} to {field('max')}
    </>
  );
}

/** What a search has come to: what it found, against what there is; what excludes each other; what trades. */
function Found({ found, asked, of, fresh, under }: { found: SearchFound; asked: SearchAsked; of: Design; fresh: boolean; under: boolean }) {
  const [picked, setPicked] = useState<Tried>();
  const shown = (picked && found.front.includes(picked) ? picked : undefined) ?? found.best;
  const made = shown && designAt(of, asked.freedoms, shown.shares);
  const take = (): void => {
    if (made?.ok) actions.take({ ...made.value, name: of.name });
  };
  const lay = (): void => {
    if (made?.ok) actions.keepOther('found', { ...made.value, name: of.name });
  };
  return (
    <div className={fresh || under ? '' : 'stale'}>
      <h2 style={{ margin: '0 0 4px' }}>
        {found.holds ? (found.everywhere ? 'One that holds in the whole region' : 'One that holds where it was judged') : under ? 'Nothing holds yet' : 'None of them holds'}{' '}
        <span className="muted" style={{ fontWeight: 400 }}>
          {found.tried} judged, {found.holding} hold
        </span>
      </h2>
      {found.conflict && !under && (
        <p className={css.fails} role="alert" style={{ margin: '0 0 6px' }}>
          {found.conflict.length === 1 ? `None of those judged holds the ${requirementNamed(found.conflict[0]!).title}: free more, or widen it.` : `${found.conflict.map((id) => requirementNamed(id).title).join(' and ')} exclude each other here: one has to give way, or more has to be free.`}
        </p>
      )}
      {shown?.problem && !under && <p className={css.fails}>The nearest of them has no figures: {inWords(shown.problem)}.</p>}
      {shown && made?.ok && (
        <p style={{ margin: '0 0 6px' }}>
          <button type="button" className={frame.chip} onClick={take}>
            take it
          </button>{' '}
          <button type="button" className={frame.chip} onClick={lay}>
            lay it over the plots
          </button>{' '}
          <button type="button" className={frame.link} onClick={() => useSearch.setState({ found: undefined, asked: undefined, design: undefined })}>
            leave it, and ask anew
          </button>
        </p>
      )}
      {found.front.length > 1 && <FrontPlot front={found.front} axes={found.holds ? asked.aims.slice(0, 2).map((a, k) => ({ title: aimTitle(a), of: (t) => t.aims[k]!, text: (v) => aimText(a, v) })) : found.conflict!.slice(0, 2).map((id) => ({ title: requirementNamed(id).title, of: (t) => t.value[id]!, text: (v) => print(v, requirementNamed(id).unit), limit: of.requirements[id].limit }))} picked={shown} pick={setPicked} />}
      {shown && (
        <table className={css.list}>
          <thead>
            <tr>
              <th>free</th>
              <th style={{ textAlign: 'right' }}>was</th>
              <th style={{ textAlign: 'right' }}>found</th>
            </tr>
          </thead>
          <tbody>
            {asked.freedoms.map((f, k) => {
              const value = saidOf(f, valueOf(f, shown.shares[k]!));
              const was = f.kind === 'parts' ? of.parts[f.path.split('.')[1]!]!.part : saidOf(f, standsAt(of, f.path)!);
              return (
                <tr key={f.path}>
                  <td>{titleOf(f)}</td>
                  <td className={`${css.number} muted`}>{was}</td>
                  <td className={css.number} style={{ fontWeight: value === was ? undefined : 650 }}>
                    {value}
                  </td>
                </tr>
              );
            })}
            {asked.aims.map((a, k) => (
              <tr key={a}>
                <td>{aimTitle(a)}</td>
                <td />
                <td className={css.number}>{aimText(a, shown.aims[k]!)}</td>
              </tr>
            ))}
            {REQUIREMENTS.filter((r) => shown.room[r.id] !== undefined).map((r) => (
              <tr key={r.id}>
                <td>
                  {r.title} {r.direction === 'at most' ? '≤' : '≥'} {print(of.requirements[r.id].limit, r.unit)}
                </td>
                <td />
                <td className={`${css.number} ${shown.room[r.id]! < 0 ? css.fails : ''}`}>{print(shown.value[r.id]!, r.unit)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
