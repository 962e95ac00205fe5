'use client';
import { useState, type RefObject } from 'react';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import frame from '../frame/frame.module.css';
import { saveCsv, savePng, saveSvg } from './savePlot';

/** Save a plot as SVG, PNG or CSV. */
export function SaveMenu({ svg, name, columns }: { svg: RefObject<SVGSVGElement | null>; name: string; columns: () => Record<string, readonly number[]> }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const then = (act: () => void) => () => {
    setAnchor(null);
    act();
  };
  return (
    <>
      <button type="button" className={frame.chip} aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
        Save plot ▾
      </button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem onClick={then(() => svg.current && saveSvg(svg.current, name))}>as SVG</MenuItem>
        <MenuItem onClick={then(() => svg.current && savePng(svg.current, name))}>as PNG</MenuItem>
        <MenuItem onClick={then(() => saveCsv(columns(), name))}>data as CSV</MenuItem>
      </Menu>
    </>
  );
}
