'use client';
import { useState } from 'react';
import type { Problem } from '../../core/problem';
import frame from '../frame/frame.module.css';
import { circuitActions } from '../state/circuit';

/** "on resistance" of "onResistance" */
export const fieldInWords = (field: string): string => (field === 'esr' ? 'series resistance' : field.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`));

/** A value of an element that is changed where it stands: click, type with a unit, Enter. Esc leaves it as it was. */
export function ElementField({ id, field, shown }: { id: string; field: string; shown: string }) {
  const [text, setText] = useState<string>();
  const [problem, setProblem] = useState<Problem>();
  const label = `${id} ${fieldInWords(field)}`;
  if (text === undefined)
    return (
      <button type="button" className={frame.value} aria-label={`${label}: ${shown}`} title="click to change" onClick={() => setText(shown)}>
        {shown}
      </button>
    );
  const change = (typed: string | undefined): void => {
    setText(typed);
    setProblem(undefined);
  };
  const submit = (): void => {
    const wrong = text.trim() === shown ? undefined : circuitActions.edit(id, field, text);
    if (wrong) setProblem(wrong);
    else change(undefined);
  };
  return (
    <span>
      <input
        className={frame.entry}
        aria-label={label}
        aria-invalid={problem !== undefined}
        autoFocus
        size={Math.max(5, text.length + 1)}
        value={text}
        onFocus={(e) => e.target.select()}
        onChange={(e) => change(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') submit();
          if (e.key === 'Escape') change(undefined);
        }}
        onBlur={() => (problem ? undefined : submit())}
      />
      {problem && (
        <div role="alert" style={{ color: 'var(--fail)', whiteSpace: 'normal' }}>
          {problem.message}; {problem.remedy}
        </div>
      )}
    </span>
  );
}
