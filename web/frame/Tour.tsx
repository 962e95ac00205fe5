'use client';
import { usePathname, useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { create } from 'zustand';
import { storage } from '../state/storage';
import { TOUR } from './guide';
import css from './frame.module.css';

/** Where the tour stands; whether it is offered. */
export const useTour = create<{ step?: number; offered: boolean }>(() => ({ offered: false }));
const { setState: set } = useTour;
const KEY = 'tour';
const remember = (): void => void storage().settings.put({ key: KEY, value: 'seen' }).catch(() => undefined);

export const tourActions = {
  begin: (): void => (set({ step: 0, offered: false }), remember()),
  leave: (): void => (set({ step: undefined, offered: false }), remember()),
  /** Offer it once, on the first visit; a browser that keeps nothing is not asked again and again. */
  offer: (): void => void storage().settings.get(KEY).then((seen) => seen ?? set({ offered: true })).catch(() => undefined),
};

/** The offer of it, in a line, until it is taken or left. */
export const TourOffer = () => (
  <span className="muted" data-testid="tour-offer">
    Here for the first time?{' '}
    <button type="button" className={css.link} onClick={tourActions.begin}>
      Take a tour of two minutes
    </button>{' '}
    <button type="button" className={css.link} style={{ textDecoration: 'none' }} aria-label="No tour" title="Not now: it is in Help (?)" onClick={tourActions.leave}>
      ×
    </button>
  </span>
);

/** The tour: a card that goes from place to place, and can be left at any moment. */
export function Tour() {
  const step = useTour((t) => t.step);
  const router = useRouter();
  const path = usePathname();
  const now = step === undefined ? undefined : TOUR[step];
  useEffect(() => tourActions.offer(), []);
  useEffect(() => {
    if (now && path !== `/${now.stage}`) router.push(`/${now.stage}`);
  }, [now, path, router]);
  // What is spoken of is outlined while it is.
  useEffect(() => {
    const at = now && document.querySelector<HTMLElement>(now.at);
    at?.setAttribute('data-toured', 'true');
    return () => at?.removeAttribute('data-toured');
  }, [now, path]);
  useEffect(() => {
    if (!now) return;
    const onKeyDown = (e: KeyboardEvent): void => void (e.key === 'Escape' && tourActions.leave());
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, [now]);
  if (!now || step === undefined) return null;
  const last = step === TOUR.length - 1;
  return (
    <div className={css.tour} role="dialog" aria-label={`Tour, ${step + 1} of ${TOUR.length}`} data-testid="tour">
      <b>{now.title}</b>
      <span>{now.text}</span>
      <span style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
        <button type="button" className={css.chip} disabled={step === 0} onClick={() => set({ step: step - 1 })}>
          Back
        </button>
        <button type="button" className={css.primary} autoFocus onClick={() => (last ? tourActions.leave() : set({ step: step + 1 }))}>
          {last ? 'Done' : 'Next'}
        </button>
        <span className="muted" style={{ flex: 1, textAlign: 'center' }}>
          {step + 1} of {TOUR.length}
        </span>
        {!last && (
          <button type="button" className={css.link} onClick={tourActions.leave}>
            Leave
          </button>
        )}
      </span>
    </div>
  );
}
