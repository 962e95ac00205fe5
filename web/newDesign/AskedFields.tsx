'use client';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { usual, type AskedText } from '../../core/proposal';
import { printTyped } from '../../core/quantity';
import { newDesignActions, useNewDesign } from '../state/newDesign';
import frame from '../frame/frame.module.css';
import css from './newDesign.module.css';

type Key = Exclude<keyof AskedText, 'isolated'>;

/** One dotted field of the sentence; grey where a usual value stands in. */
function Field({ name, label, hint, autoFocus = false }: { name: Key; label: string; hint: string; autoFocus?: boolean }) {
  const value = useNewDesign((s) => s.text[name] ?? '');
  const problem = useNewDesign((s) => s.read.problems[name]);
  const input = useRef<HTMLInputElement>(null);
  const [left, setLeft] = useState(false);
  useEffect(() => {
    if (autoFocus) input.current?.focus();
  }, [autoFocus]);
  // What is still being typed is not refused yet.
  const refused = problem !== undefined && left && value !== '';
  return (
    <input
      ref={input}
      className={`${css.field} ${refused ? css.refused : ''}`}
      aria-label={label}
      aria-invalid={refused}
      title={refused ? `${problem.message}; ${problem.remedy}` : undefined}
      value={value}
      placeholder={hint}
      size={Math.max(3, (value || hint).length)}
      autoComplete="off"
      spellCheck={false}
      onChange={(e) => newDesignActions.type(name, e.target.value)}
      onFocus={() => setLeft(false)}
      onBlur={() => setLeft(true)}
    />
  );
}

/** What a new design is asked for, as one sentence. */
export function AskedFields() {
  const { text, read } = useNewDesign();
  const [more, setMore] = useState<Partial<Record<'second' | 'loadInductance' | 'limits', boolean>>>({});
  const own = read.asked && usual(read.asked);
  const grey = (of: (u: NonNullable<typeof own>) => string, before: string): string => (own ? of(own) : before);
  const problems = Object.entries(read.problems).filter(([key]) => (text[key as keyof AskedText] ?? '') !== '');
  const toggle = (key: 'second' | 'loadInductance' | 'limits', label: string): ReactNode => (
    <button
      type="button"
      className={frame.chip}
      aria-pressed={more[key] === true}
      onClick={() => {
        if (more[key] && key !== 'limits') newDesignActions.type(key, '');
        setMore({ ...more, [key]: !more[key] });
      }}
    >
      {label}
    </button>
  );
  return (
    <>
      <p className={css.sentence}>
        From <Field name="line" label="line" hint="12 V" autoFocus /> make <Field name="output" label="output voltage" hint="5 V" /> at <Field name="load" label="load" hint="0–3 A" />
        {more.second && (
          <>
            {' '}
            and <Field name="second" label="second output" hint="12 V at 0.5 A" />
          </>
        )}
        {more.loadInductance && (
          <>
            , into <Field name="loadInductance" label="inductance of the load" hint="10 mH" />
          </>
        )}
        , ripple under <Field name="ripple" label="ripple" hint={grey((u) => printTyped(u.requirements.ripple.limit, 'V', 3), '1 %')} />, after a step of{' '}
        <Field name="loadStep" label="load step" hint={grey((u) => printTyped(u.brief.loadStep, 'A', 3), 'half')} /> within <Field name="deviation" label="deviation" hint={grey((u) => printTyped(u.requirements.deviation.limit, 'V', 3), '5 %')} />, switching at{' '}
        <Field name="frequency" label="switching frequency" hint={grey((u) => printTyped(u.brief.frequency, 'Hz', 3), 'what is usual')} />, in air up to <Field name="air" label="air" hint="50 °C" />
        {more.limits && (
          <>
            , with an efficiency of <Field name="efficiency" label="efficiency" hint="85 %" /> and a phase margin of <Field name="phaseMargin" label="phase margin" hint="45°" />
          </>
        )}
        .
      </p>
      {problems.map(([key, p]) => (
        <p key={key} className={css.wrong} role="status">
          {p.message}; {p.remedy}.
        </p>
      ))}
      <div className={css.chips}>
        <button type="button" className={frame.chip} onClick={() => newDesignActions.type('line', '230 V 50 Hz')}>
          from the mains
        </button>
        <button type="button" className={frame.chip} aria-pressed={text.isolated === true} onClick={() => newDesignActions.type('isolated', !text.isolated)}>
          isolated
        </button>
        {toggle('second', 'second output')}
        {toggle('loadInductance', 'load is a winding')}
        {toggle('limits', 'limits')}
      </div>
    </>
  );
}
