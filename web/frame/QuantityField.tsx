'use client';
import { useState, type KeyboardEvent } from 'react';
import Tooltip from '@mui/material/Tooltip';
import { fieldAt } from '../../core/design';
import type { Problem } from '../../core/problem';
import { parseQuantity, parseRange, printQuantity, printRange, printTyped, type UnitName } from '../../core/quantity';
import { printMask, readMask, type ImpedanceMask } from '../../core/surroundings/impedanceMask';
import { useEdited } from './edited';
import css from './frame.module.css';

export interface EditorProps {
  label: string;
  shown: string;
  /** Text that the entry starts with */
  start: string;
  /** The changes a text means, or why it means none */
  read: (text: string) => { changes: Record<string, unknown>; echo: string } | Problem;
  /** Where a refusal belongs to this field */
  paths: string[];
}

const isProblem = (r: ReturnType<EditorProps['read']>): r is Problem => 'remedy' in r;

/** A figure that is edited where it stands: click, type with a unit, Enter. Esc leaves it as it was. */
export function Editor({ label, shown, start, read, paths }: EditorProps) {
  const [text, setText] = useState<string>();
  const [problem, setProblem] = useState<Problem>();
  const document = useEdited();
  const refused = document.useRefused(paths);

  if (text === undefined)
    return (
      <button
        type="button"
        className={`${css.value} ${refused ? css.refused : ''}`}
        aria-label={`${label}: ${shown}`}
        title={`${label}: click to change`}
        onClick={() => setText(start)}
      >
        {shown}
      </button>
    );

  const close = (): void => {
    setText(undefined);
    setProblem(undefined);
  };
  const submit = (): void => {
    if (text.trim() === start) return close();
    const found = read(text);
    if (isProblem(found)) return setProblem(found);
    const wrong = document.typed(found.changes);
    if (!wrong) return close();
    setProblem(wrong);
  };
  const onKeyDown = (e: KeyboardEvent): void => {
    e.stopPropagation();
    if (e.key === 'Enter') submit();
    if (e.key === 'Escape') {
      document.dismiss();
      close();
    }
  };
  // What Enter would do, said while typing.
  const ahead = read(text);
  const wouldBe = isProblem(ahead) ? { problem: ahead } : document.ahead(ahead.changes);
  const trouble = problem ?? wouldBe.problem;
  const said = trouble ? `${trouble.message}; ${trouble.remedy}` : `= ${isProblem(ahead) ? '' : ahead.echo}${wouldBe.with ? `, and with it ${wouldBe.with.join(', ')}` : ''}`;
  return (
    <Tooltip open describeChild arrow placement="bottom" title={<span className={css.echo}>{said}</span>}>
      <input
        className={css.entry}
        aria-label={label}
        aria-invalid={trouble !== undefined}
        autoFocus
        size={Math.max(5, text.length + 1)}
        value={text}
        onFocus={(e) => e.target.select()}
        onChange={(e) => {
          setText(e.target.value);
          setProblem(undefined);
        }}
        onKeyDown={onKeyDown}
        onBlur={() => (trouble ? undefined : submit())}
      />
    </Tooltip>
  );
}

/** A typed quantity of the design at a path, with its unit. */
export function QuantityField({ path, label, digits }: { path: string; label?: string; digits?: number }) {
  const value = useEdited().useAt(path) as number;
  const field = fieldAt(path)!;
  const unit: UnitName = field.unit;
  const shown = printTyped(value, unit, digits);
  return (
    <Editor
      label={label ?? field.title}
      shown={shown}
      start={shown}
      paths={[path]}
      read={(text) => {
        const read = parseQuantity(text, unit, path);
        return read.ok ? { changes: { [path]: read.value }, echo: printTyped(read.value, unit, 9) } : read.problem;
      }}
    />
  );
}

/** A typed range (min and max below one path). */
export function RangeField({ path, label }: { path: string; label: string }) {
  const value = useEdited().useAt(path) as { min: number; max: number };
  const { unit } = fieldAt(`${path}.min`)!;
  const shown = printRange(value, unit);
  return (
    <Editor
      label={label}
      shown={shown}
      start={shown}
      paths={[path, `${path}.min`, `${path}.max`]}
      read={(text) => {
        const read = parseRange(text, unit, path, path === 'brief.line');
        return read.ok
          ? { changes: { [`${path}.min`]: read.value.min, [`${path}.max`]: read.value.max }, echo: printRange(read.value, unit, 9) }
          : read.problem;
      }}
    />
  );
}

/** The mask of the output impedance: pairs of frequency and impedance. */
export function MaskField() {
  const path = 'brief.impedanceMask';
  const mask = useEdited().useAt(path) as ImpedanceMask;
  return (
    <Editor
      label="mask of the output impedance"
      shown={`to ${printTyped(mask.at(-1)![0], 'Hz', 2)}`}
      start={printMask(mask)}
      paths={[path]}
      read={(text) => {
        const read = readMask(text);
        return read.ok ? { changes: { [path]: read.value }, echo: printMask(read.value, 3) } : read.problem;
      }}
    />
  );
}

/**
 * A value that is suggested until it is overridden. Computed: plain, with a pencil to override.
 * Overridden: typed (dotted), with the suggestion beside it and a way back.
 */
export function OverrideField({
  path,
  computed,
  suggested,
  unit,
  label,
}: {
  path: string;
  computed: number;
  suggested: number;
  unit: UnitName;
  label: string;
}) {
  const document = useEdited();
  const typed = document.useAt(path) as number | null | undefined;
  const print = (v: number): string => (unit === '' ? String(v) : printQuantity(v, unit));
  const read: EditorProps['read'] = (text) => {
    const found = parseQuantity(text, unit, path);
    return found.ok ? { changes: { [path]: found.value }, echo: printTyped(found.value, unit, 9) } : found.problem;
  };
  // Not there at all is as good as nothing said.
  if (typed == null)
    return (
      <span className="mono">
        <span data-computed>{print(computed)}</span> <Editor label={`${label}: override`} shown="✎" start={printTyped(computed, unit)} paths={[path]} read={read} />
      </span>
    );
  return (
    <span className="mono">
      <Editor label={label} shown={printTyped(typed, unit)} start={printTyped(typed, unit)} paths={[path]} read={read} />{' '}
      <button type="button" className={css.link} title={`take the suggested ${print(suggested)} again`} onClick={() => document.edit({ [path]: null })}>
        ↺ {print(suggested)}
      </button>
    </span>
  );
}
