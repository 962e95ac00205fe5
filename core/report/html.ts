import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { Block, Report, Row } from './blocks';
import { escaped as e } from './escaped';
import { barsSvg, plotSvg } from './plot';

/** Set for screen and paper: no script, nothing from anywhere else. */
const STYLE = `
body{font:14px/1.45 system-ui,sans-serif;color:#1c2422;max-width:980px;margin:32px auto;padding:0 20px}
h1{font-size:26px;margin:0 0 4px}h2{font-size:18px;margin:28px 0 8px;border-bottom:1px solid #cfd6d2;padding-bottom:3px}h3{font-size:14px;margin:14px 0 2px}
table{border-collapse:collapse;margin:8px 0;font-size:12.5px}th{text-align:left;font-weight:600;color:#56625d}td,th{padding:3px 12px 3px 0;border-bottom:1px solid #e6eae8;vertical-align:top}
.n{text-align:right;font-family:ui-monospace,monospace;white-space:nowrap}.fails td,.fails{color:#a3241d}.verdict{font-size:16px;padding:10px 14px;border:1px solid;border-radius:6px;display:inline-block}
.holds{color:#1f6f5c}.scroll{overflow-x:auto}svg{max-width:100%;height:auto;display:block;margin:4px 0}small,.muted{color:#56625d}details{margin:4px 0}.plots{display:grid;grid-template-columns:repeat(auto-fit,minmax(400px,1fr));gap:0 24px}code{font-family:ui-monospace,monospace}
@media print{body{margin:0;max-width:none}h2{break-after:avoid}table,svg,details{break-inside:avoid}}
`;

const numbersOf = (block: Extract<Block, { kind: 'table' }>, k: number): string => (block.numbers?.includes(k) ? ' class="n"' : '');

function tableHtml(block: Extract<Block, { kind: 'table' }>): string {
  const head = block.head ? `<thead><tr>${block.head.map((h, k) => `<th scope="col"${numbersOf(block, k)}>${e(h)}</th>`).join('')}</tr></thead>` : '';
  const row = ({ cells, fails }: Row): string => `<tr${fails ? ' class="fails"' : ''}>${cells.map((c, k) => `<td${numbersOf(block, k)}>${e(c)}</td>`).join('')}</tr>`;
  return `<div class="scroll"><table>${head}<tbody>${block.rows.map(row).join('')}</tbody></table></div>`;
}

const workingHtml = (w: Working): string =>
  `<details><summary>${e(w.title)}: <b>${e(print(w.value, w.unit, 4))}</b></summary><p><code>${e(w.formula)}</code><br><code>= ${e(w.numbers)}</code><br><small>${e(w.source)}${w.leavesOut === '' ? '' : `; leaves out ${e(w.leavesOut)}`}</small></p></details>`;

function blockHtml(block: Block): string {
  switch (block.kind) {
    case 'text':
      return `<p${block.fails ? ' class="fails"' : ''}>${e(block.text)}</p>`;
    case 'table':
      return tableHtml(block);
    case 'plot':
      return `<div><h3>${e(block.title)}</h3>${plotSvg(block)}</div>`;
    case 'bars':
      return barsSvg(block);
    case 'drawing':
      return block.svg;
    case 'workings':
      return block.list.map(workingHtml).join('');
  }
}

/** Plots that follow each other stand side by side where there is room. */
function blocksHtml(blocks: readonly Block[]): string {
  const out: string[] = [];
  let plots: string[] = [];
  for (const b of [...blocks, undefined]) {
    if (b?.kind === 'plot') plots.push(blockHtml(b));
    else {
      if (plots.length > 0) out.push(`<div class="plots">${plots.join('')}</div>`);
      plots = [];
      if (b) out.push(blockHtml(b));
    }
  }
  return out.join('\n');
}

/** A report as one file that opens without a network and prints. */
export function reportHtml(r: Report): string {
  const sections = r.sections.map((s) => `<section id="${s.id}"><h2>${e(s.title)}</h2>${blocksHtml(s.blocks)}</section>`).join('\n');
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<title>${e(r.title)}</title><style>${STYLE}</style></head><body>
<h1>${e(r.title)}</h1><p>${e(r.summary)}.</p>
<p class="verdict ${r.holds ? 'holds' : 'fails'}">${e(r.verdict)}</p>
${sections}
<footer><p class="muted"><small>${r.about.map(([a, b]) => `${e(a)}: <code>${e(b)}</code>`).join('<br>')}</small></p></footer>
</body></html>
`;
}
