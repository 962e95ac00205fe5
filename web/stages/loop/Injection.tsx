'use client';
import { useEffect, useRef, useState } from 'react';
import type { Design } from '../../../core/design';
import type { InjectedLoop } from '../../../core/evaluation';
import { printQuantity as print } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import { jobs } from '../../workers/pool';

/** Of the crossover, where tones are injected */
const AT = [0.25, 0.5, 1, 2, 3, 4];

/** What was injected of the design and point in view, and how to ask for it. */
export function useInjection(): { points: readonly InjectedLoop[]; begin: (crossover: number) => void; stop: () => void; busy: number | undefined } {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const [found, setFound] = useState<{ design: Design; point: OperatingPoint; points: InjectedLoop[] }>();
  const [busy, setBusy] = useState<number>();
  const run = useRef<AbortController>(undefined);
  useEffect(() => () => run.current?.abort(), []);
  const stop = (): void => {
    run.current?.abort();
    setBusy(undefined);
  };
  const begin = async (crossover: number): Promise<void> => {
    run.current?.abort();
    const own = (run.current = new AbortController());
    const points: InjectedLoop[] = [];
    setFound({ design, point, points });
    const at = AT.map((k) => k * crossover).filter((f) => f < 0.45 * design.brief.frequency);
    for (const [k, f] of at.entries()) {
      setBusy(k / at.length);
      try {
        const one = await jobs().at('asked', own.signal).inject(design, point, f);
        if (own.signal.aborted) return;
        if (!one.ok) {
          actions.refuse(one.problem);
          break;
        }
        points.push(...one.value);
        setFound({ design, point, points: [...points] });
      } catch {
        // Stopped, or a worker that died twice.
        return;
      }
    }
    setBusy(undefined);
  };
  return { points: found?.design === design && found.point === point ? found.points : [], begin: (c) => void begin(c), stop, busy };
}

/** The link that begins an injection, how far it has come, and what it says. */
export function InjectionLink({ injection: { points, begin, stop, busy }, crossover }: { injection: ReturnType<typeof useInjection>; crossover: number }) {
  if (busy !== undefined)
    return (
      <span className="muted" style={{ whiteSpace: 'nowrap', fontSize: 12 }}>
        injecting, {print(busy, '%', 2)}{' '}
        <button type="button" className={frame.link} onClick={stop}>
          stop
        </button>
      </span>
    );
  const worst = points.reduce<InjectedLoop | undefined>((a, b) => (a && Math.abs(a.off.gain) >= Math.abs(b.off.gain) ? a : b), undefined);
  return (
    <span style={{ whiteSpace: 'nowrap', fontSize: 12 }} data-testid="injection">
      {worst && (
        <span className="muted">
          {points.length} injected, at most {Math.abs(worst.off.gain).toFixed(2)} dB off{' '}
        </span>
      )}
      <button type="button" className={frame.link} title="Small tones into the running converter, read as on a bench" onClick={() => begin(crossover)}>
        {worst ? 'again' : 'inject'}
      </button>
    </span>
  );
}
