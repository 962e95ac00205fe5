'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Dialog from '@mui/material/Dialog';
import TextField from '@mui/material/TextField';
import { useRouter } from 'next/navigation';
import { create } from 'zustand';
import { topologyOf } from '../../core/design';
import { STAGES } from '../stages/list';
import { newDesignActions } from '../state/newDesign';
import { addDemo, demoNames, saveFile } from '../state/session';
import { actions, useStore } from '../state/store';
import { printQuantity as print } from '../../core/quantity';
import { tourActions } from './Tour';
import css from './frame.module.css';

/** Whether the find box, or the list of keys, is open. */
export const useOverlay = create<{ find: boolean; keys: boolean }>(() => ({ find: false, keys: false }));

export const FindButton = () => (
  <button type="button" className={css.chip} title="Find a stage, a part, a figure, an action (Ctrl K)" onClick={() => useOverlay.setState({ find: true })}>
    Find… <span className={`mono muted ${css.roomy}`}>Ctrl K</span>
  </button>
);

/** Something that can be found by its name. */
export interface Entry {
  group: string;
  label: string;
  act: () => unknown;
}

/** What there is of a design. */
export function useDesignEntries(): Entry[] {
  const router = useRouter();
  const design = useStore((s) => s.design);
  const figures = useStore((s) => s.answers.figures);
  const go = (stage: string) => () => router.push(`/${stage}`);
  const stages = STAGES.map((s): Entry => ({ group: 'Stages', label: s.title, act: go(s.id) }));
  const parts = topologyOf(design)!.slots.map((p): Entry => ({ group: 'Parts', label: `${p.id} · ${p.title}`, act: () => actions.select(p.id) }));
  const shown: Entry[] = figures
    ? [
        ...(figures.loop ? [{ group: 'Figures', label: `crossover ${print(figures.loop.crossover, 'Hz')}`, act: go('loop') }, { group: 'Figures', label: `phase margin ${print(figures.loop.phaseMargin, '°')}`, act: go('loop') }] : []),
        { group: 'Figures', label: `output ripple ${print(figures.cycle.outputRipple, 'V')}`, act: go('waveforms') },
        { group: 'Figures', label: `efficiency ${print(figures.losses.efficiency, '%')}`, act: go('losses') },
        ...figures.heat.rungs.map((r): Entry => ({ group: 'Figures', label: `${r.title} ${print(r.temperature, '°C')}`, act: go('heat') })),
      ]
    : [];
  const acts: Entry[] = [
    { group: 'Actions', label: 'New design', act: newDesignActions.open },
    { group: 'Actions', label: 'Keep this state', act: actions.keep },
    { group: 'Actions', label: 'Undo', act: actions.undo },
    { group: 'Actions', label: 'Redo', act: actions.redo },
    { group: 'Actions', label: 'Save as a file', act: saveFile },
    ...demoNames().map((demo, index): Entry => ({ group: 'Actions', label: `New from the demo ${demo}`, act: () => addDemo(index) })),
    { group: 'Actions', label: 'Take the tour', act: tourActions.begin },
    { group: 'Actions', label: 'Help, keys and words', act: () => useOverlay.setState({ keys: true }) },
  ];
  return [...stages, ...parts, ...shown, ...acts];
}

/** Ctrl K: any of the entries by name. @param what they are, in a few words */
export function Find({ entries, what = 'a stage, a part, a figure, an action' }: { entries: readonly Entry[]; what?: string }) {
  const open = useOverlay((s) => s.find);
  const close = (): void => useOverlay.setState({ find: false });
  return (
    <Dialog open={open} onClose={close} fullWidth maxWidth="sm" aria-label="Find" sx={{ '& .MuiDialog-container': { alignItems: 'flex-start' } }}>
      <Autocomplete
        onKeyDown={(e) => e.key === 'Escape' && close()}
        options={entries}
        groupBy={(e) => e.group}
        getOptionLabel={(e) => e.label}
        openOnFocus
        autoHighlight
        open
        forcePopupIcon={false}
        onChange={(_, entry) => {
          close();
          if (entry) void entry.act();
        }}
        slotProps={{ listbox: { sx: { fontSize: 13, maxHeight: 380 } } }}
        renderInput={(params) => <TextField {...params} autoFocus placeholder={what} variant="outlined" sx={{ '& fieldset': { border: 0 }, '& input:focus-visible': { outline: 'none' } }} />}
      />
    </Dialog>
  );
}
