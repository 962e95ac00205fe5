import fc from 'fast-check';
import { topologyNamed } from '../core/topology';
import { specs } from '../core/testing/briefs';
import { checkDesign } from '../core/design/check';
import { Design as Schema } from '../core/design/schema';
import { openDemo } from '../demo/open';
const t = topologyNamed('mains-boost')!;
const demo = openDemo('station-charger');
for (const spec of fc.sample(specs(t), { numRuns: 4, seed: 1000 })) { const m = Schema.safeParse({ ...demo, brief: spec.brief, parts: spec.parts, drive: spec.drive }); console.log(m.success ? checkDesign(m.data) : m.error.issues.slice(0, 2)); }
