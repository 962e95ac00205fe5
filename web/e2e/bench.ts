import { expect, type Page } from '@playwright/test';
import demo from '../../demo/cabin-lighting-rail.json' with { type: 'json' };
import { editDesign, readDesignValue, type Design } from '../../core/design';
import { evaluate, type Figures } from '../../core/evaluation';
import { printQuantity } from '../../core/quantity';
import type { OperatingPoint } from '../../core/topology';

/** What the browser tests share: the core beside the screen, so that every figure is checked against it. */

export const START: OperatingPoint = { line: 54, load: 6, air: 50 };

export function design(changes: Record<string, unknown> = {}): Design {
  const read = readDesignValue(demo);
  if (!read.ok) throw new Error(read.problem.message);
  const edited = editDesign(read.value, changes);
  if (!edited.ok) throw new Error(edited.problem.message);
  return edited.value;
}

export function figures(d: Design, point: OperatingPoint = START): Figures {
  const found = evaluate(d, point);
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
}

export async function open(page: Page, stage = 'power-stage'): Promise<void> {
  await page.goto(`/${stage}`);
  await expect(page.getByTestId('corner-count')).toContainText('corners meet the brief');
}

export const reed = (page: Page, stage: string) => page.getByTestId(`reed-${stage}`);

/** The figures on the reeds and the corner count are those of the core. */
export async function expectFigures(page: Page, d: Design, point: OperatingPoint = START): Promise<void> {
  const f = figures(d, point);
  await expect(reed(page, 'waveforms')).toHaveText(`${printQuantity(f.cycle.outputRipple, 'V')} pp`);
  await expect(reed(page, 'loop')).toHaveText(`${printQuantity(f.loop!.crossover, 'Hz')} · ${Math.round(f.loop!.phaseMargin)}°`);
  await expect(reed(page, 'losses')).toHaveText(`${printQuantity(f.losses.efficiency, '%')} · ${printQuantity(f.losses.total, 'W')}`);
}

/** Click a dotted figure, type, press Enter. */
export async function type(page: Page, label: string | RegExp, text: string): Promise<void> {
  await page.getByRole('button', { name: label }).first().click();
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}

export const pointOf = async (page: Page): Promise<OperatingPoint> => {
  const pad = page.getByTestId('pad');
  return { ...START, line: Number(await pad.getAttribute('data-line')), load: Number(await pad.getAttribute('data-load')) };
};
