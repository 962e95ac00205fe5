import { csvFormatRows } from 'd3';
import { download } from '../state/session';

const painted = new WeakMap<SVGSVGElement, () => string>();

/** Say what a plot has besides its SVG, drawn on a canvas below it: as the markup of a group, asked for when it is saved. */
export const alsoPainted = (svg: SVGSVGElement, markup: () => string): void => void painted.set(svg, markup);

/** The SVG of a plot as a text of its own: colours written out, ground and namespace added. */
function standalone(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const { width, height } = svg.getBoundingClientRect();
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  const style = getComputedStyle(document.documentElement);
  // Classes mean nothing outside the page: write what they compute to onto each element.
  const live = svg.querySelectorAll<SVGElement>('*');
  copy.querySelectorAll<SVGElement>('*').forEach((element, i) => {
    const computed = getComputedStyle(live[i]!);
    for (const key of ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'opacity', 'font']) element.style.setProperty(key, computed.getPropertyValue(key));
    for (const name of ['fill', 'stroke', 'class', 'tabindex']) element.removeAttribute(name);
  });
  const more = painted.get(svg);
  if (more) copy.insertAdjacentHTML('afterbegin', more());
  const ground = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  ground.setAttribute('width', '100%');
  ground.setAttribute('height', '100%');
  ground.setAttribute('fill', style.getPropertyValue('--card'));
  copy.prepend(ground);
  return new XMLSerializer().serializeToString(copy);
}

export const saveSvg = (svg: SVGSVGElement, name: string): void => download(`${name}.svg`, standalone(svg), 'image/svg+xml');

/** The same picture as PNG at twice the size. */
export function savePng(svg: SVGSVGElement, name: string): void {
  const { width, height } = svg.getBoundingClientRect();
  const image = new Image();
  image.onload = () => {
    const canvas = document.createElement('canvas');
    canvas.width = width * 2;
    canvas.height = height * 2;
    const context = canvas.getContext('2d')!;
    context.scale(2, 2);
    context.drawImage(image, 0, 0, width, height);
    const link = document.createElement('a');
    link.href = canvas.toDataURL('image/png');
    link.download = `${name}.png`;
    link.click();
  };
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(standalone(svg))}`;
}

/** Columns of numbers with headings that carry their units. */
export function saveCsv(columns: Record<string, readonly number[]>, name: string): void {
  const heads = Object.keys(columns);
  const rows = columns[heads[0]!]!.map((_, i) => heads.map((h) => String(columns[h]![i])));
  download(`${name}.csv`, csvFormatRows([heads, ...rows]), 'text/csv');
}

/** The same in binary columns; what writes them is loaded when it is wanted. */
export async function saveArrow(columns: Record<string, Float64Array>, name: string): Promise<void> {
  const { arrowFile } = await import('../../core/interchange/arrowFile');
  download(`${name}.arrow`, arrowFile(columns) as Uint8Array<ArrayBuffer>, 'application/vnd.apache.arrow.file');
}
