'use client';
import { usePathname } from 'next/navigation';
import { useMemo, useState } from 'react';
import { REQUIREMENTS } from '../../core/corners/requirements';
import type { Design } from '../../core/design';
import type { Figures } from '../../core/evaluation';
import { suggest } from '../../core/choice';
import { fieldAt, sizingInputOf } from '../../core/design';
import { sizeDesign } from '../../core/evaluation';
import { MECHANISMS } from '../../core/loss';
import type { Part } from '../../core/parts/schema';
import { printQuantity as print } from '../../core/quantity';
import { hottestOf } from '../../core/thermal/network';
import { topologyOf } from '../../core/design';
import { keepParts, useShelf } from '../state/shelf';
import { actions, useStore } from '../state/store';
import { TracesOf } from '../stages/waveforms/Readings';
import { Ask } from './Ask';
import { OverrideField, QuantityField } from './QuantityField';
import { WindingWires } from './WindingWires';
import { WorkingCard } from './WorkingCard';
import css from './frame.module.css';

/** The selected part: values, choice from the shelf, stress worst of corners, losses, the working. */
export function PartPanel() {
  const design = useStore((s) => s.design);
  const id = useStore((s) => s.selected);
  const { figures, fresh, corners, cornersFresh } = useStore((s) => s.answers);
  const slot = topologyOf(design)!.slots.find((p) => p.id === id);
  const [working, setWorking] = useState<string>();
  const waveforms = usePathname() === '/waveforms';
  if (!slot) return <p className="muted">Choose a part on the power path.</p>;
  const stresses = corners?.stresses.filter((s) => s.slot === id) ?? [];
  const loss = figures?.losses.parts.find((p) => p.id === id);
  const sized = figures?.sizing.values[id];
  const workings = figures?.detail?.workings ?? {};
  return (
    <div data-testid="part-panel">
      <div className="muted" style={{ fontWeight: 600, fontSize: 11.5 }}>
        Selected part
      </div>
      <div style={{ fontSize: 15, fontWeight: 700, marginTop: 4 }}>
        {id} · {slot.title}
      </div>
      <div className="muted" style={{ marginBottom: 10 }}>
        {slot.purpose}
      </div>
      {waveforms && <TracesOf slot={id} />}
      <ShelfChoice id={id} design={design} />
      {sized && <SizedRows id={id} sized={sized} />}
      {Object.entries(figures?.sizing.values ?? {})
        .filter(([, v]) => v.slot === id)
        .map(([key, value]) => (
          <SizedRows key={key} id={id} sized={value} />
        ))}
      <Values id={id} design={design} />
      {figures && <WindingWires id={id} design={design} figures={figures} />}

      {stresses.length > 0 && (
        <div className={cornersFresh ? '' : 'stale'}>
          <h3>Stress, worst of {corners!.corners.length} corners</h3>
          {stresses.map((s) => (
            <div key={s.id} title={`at ${print(s.at.line, 'V')}, ${print(s.at.load, 'A')}`}>
              <div className={css.row}>
                <span>{s.title}</span>
                <span className="mono">
                  {print(s.value, s.unit)} of {print(s.rating, s.unit)}
                </span>
              </div>
              <Bar share={s.value / s.rating} limit={design.requirements.ratings.limit} />
            </div>
          ))}
          <Temperature id={id} figures={figures} design={design} />
        </div>
      )}

      {loss && (
        <div className={fresh ? '' : 'stale'}>
          <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
            <span>Loss here</span>
            <span className="mono" data-testid="part-loss">
              {print(loss.total, 'W')}
            </span>
          </h3>
          {MECHANISMS[slot.kind].filter((m) => loss.mechanisms[m.id] !== undefined).map((m) => (
            <div className={css.row} key={m.id}>
              <button type="button" className={css.link} style={{ textDecorationStyle: 'dotted' }} title="Show the working" onClick={() => setWorking(working === m.id ? undefined : m.id)}>
                {m.title}
              </button>
              <span className="mono">{print(loss.mechanisms[m.id]!, 'W')}</span>
            </div>
          ))}
          {working && workings[`${id}/${working}`] && <WorkingCard working={workings[`${id}/${working}`]!} />}
        </div>
      )}
    </div>
  );
}

function Bar({ share, limit }: { share: number; limit: number }) {
  const colour = share > limit ? 'var(--fail)' : share > limit * 0.88 ? 'var(--ochre)' : 'var(--spruce)';
  return (
    <div className={css.bar}>
      <div style={{ width: `${Math.min(100, share * 100)}%`, background: colour }} />
    </div>
  );
}

/** The hot spot against the brief's limit for its kind, at the point in view. */
function Temperature({ id, figures, design }: { id: string; figures: Figures | undefined; design: Design }) {
  const rung = figures?.heat.rungs.find((r) => r.slot === id && r.limit !== undefined);
  if (!rung) return null;
  const requirement = REQUIREMENTS.find((r) => r.id === rung.spot)!;
  const { limit } = design.requirements[requirement.id];
  return (
    <>
      <div className={css.row}>
        <span>{rung.spot} here</span>
        <span className="mono">
          {Math.round(hottestOf(rung))} of {print(limit, '°C')}
        </span>
      </div>
      <Bar share={(hottestOf(rung) - 25) / (limit - 25)} limit={1} />
    </>
  );
}

/** A value with what is wanted of it, and where it is overridden. */
function SizedRows({ id, sized }: { id: string; sized: NonNullable<Figures['sizing']['values'][string]> }) {
  const [open, setOpen] = useState(false);
  const part = useStore((s) => s.design.parts[id]!);
  const isCount = part.kind === 'capacitor' && sized.path === undefined;
  const path = sized.path ?? `parts.${id}.inductance`;
  return (
    <>
      <div className={css.row}>
        <span>{isCount ? 'in parallel' : sized.title}</span>
        {isCount && part.kind === 'capacitor' ? (
          <OverrideField path={`parts.${id}.count`} unit="" label={`${id} in parallel`} computed={sized.count!} suggested={sized.suggestedCount!} />
        ) : (
          <OverrideField path={path} unit={sized.unit} label={`${id} ${sized.title}`} computed={sized.taken} suggested={sized.suggested} />
        )}
      </div>
      {isCount && (
        <div className={css.row}>
          <span>{sized.title}</span>
          <span className="mono">{print(sized.taken, sized.unit)}</span>
        </div>
      )}
      {sized.wanted > 0 && (
        <div className={css.row}>
          <span style={sized.path === undefined ? undefined : { paddingLeft: 12 }}>wanted</span>
          <button type="button" className={`${css.link} mono`} onClick={() => setOpen(!open)} title="Show the working">
            {sized.unit === 'Ω' ? '' : '≥ '}
            {print(sized.wanted, sized.unit)}
          </button>
        </div>
      )}
      {open && sized.workings.map((w) => <WorkingCard key={w.title} working={w} />)}
    </>
  );
}

const HIDDEN = new Set(['kind', 'part', 'inductance', 'primaryTurns', 'secondaryTurns', 'thirdTurns', 'count', 'steinmetz', 'winding']);

/** What hardly anybody changes. */
const LAST = /\.(height|costClass)$/;

/** Put a part of the design on the own shelf under a name, which it takes in the design as well. */
function keepOwn(id: string, part: Part, name: string | undefined): void {
  const called = name?.trim();
  if (!called) return;
  void keepParts([{ ...part, part: called }]);
  actions.edit({ [`parts.${id}.part`]: called });
}

/** The part's data, each figure typed where it stands. The first few matter most; the rest unfold. */
function Values({ id, design }: { id: string; design: Design }) {
  const [all, setAll] = useState(false);
  const [naming, setNaming] = useState(false);
  const part = design.parts[id]!;
  const paths = Object.keys(part)
    .filter((key) => !HIDDEN.has(key) || (key === 'count' && (part.kind === 'switch' || part.kind === 'diode')))
    .map((key) => `parts.${id}.${key}`)
    .filter((path) => fieldAt(path))
    // What hardly anybody changes stands last.
    .sort((a, b) => Number(LAST.test(a)) - Number(LAST.test(b)));
  const shown = all ? paths : paths.slice(0, part.kind === 'inductor' ? 1 : 2);
  return (
    <>
      {shown.map((path) => (
        <div className={css.row} key={path}>
          <span>{fieldAt(path)!.title}</span>
          <span>
            <QuantityField path={path} label={`${id} ${fieldAt(path)!.title}`} digits={4} />
          </span>
        </div>
      ))}
      <div style={{ display: 'flex', justifyContent: 'space-between' }}>
        <button type="button" className={`${css.link} muted`} onClick={() => setAll(!all)} style={{ fontSize: 12 }}>
          {all ? 'fewer values' : `${paths.length - shown.length} more values`}
        </button>
        <button type="button" className={`${css.link} muted`} onClick={() => setNaming(true)} style={{ fontSize: 12 }} title="Put this part, as it is here, on your own shelf">
          keep as own part
        </button>
      </div>
      {naming && (
        <Ask
          question={{ title: 'Name on your shelf', text: `${part.part}, own`.slice(0, 80), act: 'Keep', done: (name) => keepOwn(id, part, name) }}
          onClose={() => setNaming(false)}
        />
      )}
    </>
  );
}

/** A ratio to the present part in words: so much more or less. */
const asWords = (ratio: number): string => (Math.abs(ratio - 1) < 0.005 ? 'as much' : ratio < 3 ? `${ratio > 1 ? '+' : '−'}${Math.round(Math.abs(ratio - 1) * 100)} %` : `${ratio.toPrecision(2)} ×`);

/** The shelf for this place: what fits, the best first by its figure of merit, then the rest; choosing one keeps what was overridden. */
function ShelfChoice({ id, design }: { id: string; design: Design }) {
  const part = design.parts[id]!;
  const shelf = useShelf();
  const fits = useMemo(() => suggest(topologyOf(design)!, sizingInputOf(design), sizeDesign(design), id, shelf), [design, id, shelf]);
  const fitting = new Set(fits.map((f) => f.part.part));
  const others = shelf.filter((p) => p.kind === part.kind && !fitting.has(p.part));
  const known = fitting.has(part.part) || others.some((p) => p.part === part.part);
  return (
    <div className={css.row}>
      <span>from the shelf</span>
      <select
        className={css.select}
        style={{ maxWidth: 150 }}
        aria-label={`${id} part`}
        value={part.part}
        onChange={(e) => {
          const chosen = shelf.find((p) => p.part === e.target.value);
          if (!chosen) return;
          const kept = part.kind === 'inductor' ? { inductance: part.inductance } : part.kind === 'transformer' ? { primaryTurns: part.primaryTurns, secondaryTurns: part.secondaryTurns, thirdTurns: part.thirdTurns, inductance: part.inductance } : { count: part.count };
          actions.edit({ [`parts.${id}`]: { ...chosen, ...kept } });
        }}
      >
        {!known && <option value={part.part}>{part.part}</option>}
        {fits.length > 0 && (
          <optgroup label={`fits, least ${MERIT[part.kind]} first`}>
            {fits.map(({ part: p, unit, against }) => (
              <option key={p.part} value={p.part}>
                {unit === 'W' && against !== undefined && p.part !== part.part ? `${p.part}  ·  ${asWords(against)}` : p.part}
              </option>
            ))}
          </optgroup>
        )}
        <optgroup label="does not stand what the brief asks">
          {others.map((p) => (
            <option key={p.part} value={p.part}>
              {p.part}
            </option>
          ))}
        </optgroup>
      </select>
    </div>
  );
}

const MERIT = { switch: 'loss', diode: 'loss', inductor: 'volume', transformer: 'volume', capacitor: 'size' };
