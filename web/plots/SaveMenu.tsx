'use client';
import { useState, type RefObject } from 'react';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import frame from '../frame/frame.module.css';
import { saveArrow, saveCsv, savePng, saveSvg } from './savePlot';

/** Save a plot as SVG, PNG or CSV. */
export function SaveMenu({ svg, name, columns, binary }: { svg: RefObject<SVGSVGElement | null>; name: string; columns: () => Record<string, readonly number[]>; binary?: () => Record<string, Float64Array> | undefined }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const then = (act: () => void) => () => {
    setAnchor(null);
    act();
  };
  return (
    <>
      <button type="button" className={frame.chip} aria-haspopup="menu" aria-label="Save plot" title="Save the plot or its data" onClick={(e) => setAnchor(e.currentTarget)}>
        Save ▾
      </button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem onClick={then(() => svg.current && saveSvg(svg.current, name))}>as SVG</MenuItem>
        <MenuItem onClick={then(() => svg.current && savePng(svg.current, name))}>as PNG</MenuItem>
        <MenuItem onClick={then(() => saveCsv(columns(), name))}>data as CSV</MenuItem>
        {binary && (
          <MenuItem
            onClick={then(() => {
              const found = binary();
              if (found) void saveArrow(found, name);
            })}
          >
            data as columns (Apache Arrow)
          </MenuItem>
        )}
      </Menu>
    </>
  );
}
