'use client';
import { useRef, useState } from 'react';
import { openMeasured, Recognised, type ChosenFile } from '../stages/loop/LayOver';
import Divider from '@mui/material/Divider';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useColorScheme } from '@mui/material/styles';
import { printRange, printTyped } from '../../core/quantity';
import { shippedCircuits, useCircuit } from '../state/circuit';
import { newDesignActions } from '../state/newDesign';
import { plantActions, usePlant } from '../state/plant';
import { addDemo, addDesign, addPlant, addShippedCircuit, copyLink, deleteCircuit, deleteOpen, demoNames, listCircuits, listDesigns, openFile, openStored, openStoredCircuit, saveFile } from '../state/session';
import type { StoredCircuit, StoredDesign } from '../state/storage';
import { actions, useStore } from '../state/store';
import { Ask, type Question } from './Ask';
import { Projects } from './Projects';
import { COLUMNS, FileInput } from './FileInput';
import css from './frame.module.css';

/** ms in which a store that works has listed what it holds */
const PATIENCE = 300;

const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });
/** What tells a stored design from others: "36–60 V → 24 V, 8 A · 26 Nov". */
const told = ({ design: { brief }, updated }: StoredDesign): string => `${printRange(brief.line, 'V', 3)} → ${printTyped(brief.output.voltage, 'V', 3)}, ${printTyped(brief.load.max, 'A', 3)} · ${day.format(updated)}`;

/** The open design's name, and what can be done with whole designs. */
export function DesignMenu() {
  const designName = useStore((s) => s.design.name);
  const designId = useStore((s) => s.id);
  const circuit = useCircuit((s) => s.open);
  const plant = usePlant((s) => s.open);
  const [name, id] = circuit ? [circuit.name, circuit.id] : plant ? [plant.plant.name, plant.id] : [designName, designId];
  const [measured, setMeasured] = useState<ChosenFile>();
  const measuredFile = useRef<HTMLInputElement>(null);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [stored, setStored] = useState<StoredDesign[]>([]);
  const [circuits, setCircuits] = useState<StoredCircuit[]>([]);
  const file = useRef<HTMLInputElement>(null);
  const { mode, setMode } = useColorScheme();

  const [ask, setAsk] = useState<Question>();
  const [projects, setProjects] = useState(false);
  const close = (): void => setAnchor(null);
  /** Opens with what is stored already in it, so that nothing moves under the pointer; a store that does not answer is not waited for. */
  const openAt = async (button: HTMLElement): Promise<void> => {
    const listed = Promise.all([listDesigns().then(setStored), listCircuits().then(setCircuits)]);
    await Promise.race([listed, new Promise((late) => setTimeout(late, PATIENCE))]);
    setAnchor(button);
  };
  const then = (act: () => unknown) => () => {
    close();
    void act();
  };
  return (
    <>
      <button
        type="button"
        className={css.chip}
        aria-haspopup="menu"
        style={{ background: 'var(--card)', borderColor: 'var(--ink)' }}
        onClick={(e) => void openAt(e.currentTarget)}
      >
        {name} ▾
      </button>
      <FileInput ref={file} testId="open-file" accept=".json,application/json" open={(f) => void openFile(f)} />
      <FileInput ref={measuredFile} title="Measured plant" accept={COLUMNS} open={(f) => void openMeasured(f).then(setMeasured)} />
      {measured && (
        <Recognised
          {...measured}
          act="Place a loop on it"
          close={() => setMeasured(undefined)}
          take={(traces, title) => {
            const wrong = addPlant(title, traces);
            if (wrong) actions.refuse(wrong);
            return wrong;
          }}
        />
      )}
      {ask && <Ask question={ask} onClose={() => setAsk(undefined)} />}
      {projects && <Projects close={() => setProjects(false)} />}
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close} slotProps={{ list: { dense: true } }}>
        <MenuItem onClick={then(newDesignActions.open)}>New design…</MenuItem>
        <MenuItem onClick={() => {
            close();
            file.current?.click();
          }}>Open a file…</MenuItem>
        <MenuItem
          onClick={() => {
            close();
            measuredFile.current?.click();
          }}
        >
          A loop on a measured plant…
        </MenuItem>
        <MenuItem onClick={then(() => setProjects(true))}>All designs, in folders…</MenuItem>
        <MenuItem onClick={then(saveFile)}>Save as a file</MenuItem>
        {!circuit && !plant && <MenuItem onClick={then(copyLink)}>Copy a link to it</MenuItem>}
        {!circuit && !plant && (
          <MenuItem onClick={then(() => addDesign({ ...useStore.getState().design, name: `${name.slice(0, 70)}, copy` }))}>Make a copy</MenuItem>
        )}
        {!circuit && (
          <MenuItem
            onClick={then(() => {
              setAsk({
                title: plant ? 'Name of the plant' : 'Name of the design',
                text: name,
                act: 'Rename',
                done: (typed) => void (typed?.trim() && (plant ? plantActions : actions).edit({ name: typed.trim().slice(0, 80) })),
              });
            })}
          >
            Rename…
          </MenuItem>
        )}
        <MenuItem
          onClick={then(() => {
            setAsk({ title: `Delete "${name}" from this browser? Files saved from it stay.`, act: 'Delete', done: () => void (circuit || plant ? deleteCircuit() : deleteOpen()) });
          })}
        >
          Delete from this browser…
        </MenuItem>
        <Divider />
        <MenuItem onClick={then(() => setMode(mode === 'dark' ? 'light' : 'dark'))}>{mode === 'dark' ? 'Light screen' : 'Dark screen'}</MenuItem>
        <Divider />
        <ListSubheader sx={{ lineHeight: '26px', bgcolor: 'transparent' }}>New from a demo</ListSubheader>
        {demoNames().map((demo, index) => (
          <MenuItem key={demo} onClick={then(() => addDemo(index))}>
            {demo}, as shipped
          </MenuItem>
        ))}
        {shippedCircuits().map((title, index) => (
          <MenuItem key={title} onClick={then(() => addShippedCircuit(index))}>
            {title}, a circuit
          </MenuItem>
        ))}
        <Divider />
        <ListSubheader sx={{ lineHeight: '26px', bgcolor: 'transparent' }}>In this browser</ListSubheader>
        {stored.map((d) => (
          <MenuItem key={d.id} aria-label={d.name} aria-description={told(d)} selected={d.id === id} onClick={then(() => openStored(d.id))} sx={{ justifyContent: 'space-between', gap: 3 }}>
            {d.name}
            <small className="muted">{told(d)}</small>
          </MenuItem>
        ))}
        {circuits.map((c) => (
          <MenuItem key={c.id} selected={c.id === id} onClick={then(() => openStoredCircuit(c.id))}>
            {c.name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
