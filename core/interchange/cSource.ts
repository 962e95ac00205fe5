import { DISCRETISATIONS } from '../control';
import { runFixed, runFloating, type FixedPoint, type InCounts } from '../control/fixedPoint';

import type { Design } from '../design/schema';
import type { SampledFigures } from '../evaluation';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print } from '../quantity';

/**
 * Plain C99 of a sampled controller, with a vector that its main replays. What it computes is what core/control/fixedPoint.ts
 * computes: to the last bit in fixed point, to rounding in floating.
 */
export interface SourceOf {
  name: string;
  counts: InCounts;
  fixed: FixedPoint;
  /** Comments at its head: what it is for, units, when it samples */
  about: readonly string[];
}

/** Errors that the vector replays: steps, zeros, and both ends of a converter's range, so that it saturates and comes back. */
export function vectorOf(count = 96): number[] {
  let seed = 12345;
  return Array.from({ length: count }, (_, k) => {
    // Park, Miller, "Random number generators: good ones are hard to find", Comm. ACM 31 (1988).
    seed = (seed * 48271) % 2147483647;
    return k % 24 < 4 ? 0 : k % 48 < 12 ? (seed % 4096) - 2048 : (seed % 65) - 32;
  });
}

const list = (values: readonly (number | string)[], perLine = 12): string =>
  Array.from({ length: Math.ceil(values.length / perLine) }, (_, k) => `    ${values.slice(k * perLine, (k + 1) * perLine).join(', ')}`).join(',\n');
const floating = (v: number): string => (Number.isInteger(v) ? `${v}.0` : v.toPrecision(17));
/** No star and slash may end a comment early. */
const comment = (text: string): string => text.replace(/[^\x20-\x7e]/g, (c) => ({ 'µ': 'u', '−': '-', 'Ω': 'ohm', '°': ' deg', '≥': '>=', '≤': '<=', '→': '->' })[c] ?? '?').replace(/\*\//g, '* /');

/** The file's text. */
export function cSource({ name, counts, fixed, about }: SourceOf): string {
  const errors = vectorOf();
  const [b, a] = [fixed.numerator, fixed.denominator];
  return `/*
${[name, ...about].map((line) => ` * ${comment(line)}`).join('\n')}
 *
 * y[k] = sum b[i] e[k-i] - sum a[i] y[k-1-i], saturated between ${counts.least} and ${counts.most} counts; what is kept of y is what went out.
 * Call once a sample. e: reference less measured, in counts of the converter; what comes back: counts of the modulator.
 * Fixed point: Q${fixed.word - fixed.fraction}.${fixed.fraction}. Compiled with its main (define SELF_TEST) it replays a vector and ends with 0 if all agree.
 */
#include <stdint.h>

#define NB ${b.length}
#define NA ${a.length}
#define FRACTION ${fixed.fraction}

static const int32_t B[NB] = {${b.join(', ')}};
static const int32_t A[NA] = {${a.join(', ')}};
static const int64_t LEAST = ${fixed.least};
static const int64_t MOST = ${fixed.most};

typedef struct {
    int32_t e[NB];
    int64_t y[NA];
} controller;

/* a product with twice the fraction, back to one: nearest, halves away from zero */
static int64_t shifted(int64_t v)
{
    const int64_t half = (int64_t)1 << (FRACTION - 1);
    return v < 0 ? -((-v + half) >> FRACTION) : (v + half) >> FRACTION;
}

void controller_reset(controller *c)
{
    int i;
    for (i = 0; i < NB; i++) c->e[i] = 0;
    for (i = 0; i < NA; i++) c->y[i] = 0;
}

int32_t controller_step(controller *c, int32_t error)
{
    int64_t sum = 0;
    int i;
    for (i = NB - 1; i > 0; i--) c->e[i] = c->e[i - 1];
    c->e[0] = error;
    for (i = 0; i < NB; i++) sum += (int64_t)B[i] * c->e[i];
    for (i = 0; i < NA; i++) sum -= shifted(A[i] * c->y[i]);
    if (sum < LEAST) sum = LEAST;
    if (sum > MOST) sum = MOST;
    for (i = NA - 1; i > 0; i--) c->y[i] = c->y[i - 1];
    c->y[0] = sum;
    return (int32_t)(sum >> FRACTION);
}

/* the same in floating point */
typedef struct {
    double e[NB];
    double y[NA];
} controller_float;

static const double BF[NB] = {${counts.numerator.map(floating).join(', ')}};
static const double AF[NA] = {${counts.denominator.map(floating).join(', ')}};

double controller_float_step(controller_float *c, double error)
{
    double sum = 0.0;
    int i;
    for (i = NB - 1; i > 0; i--) c->e[i] = c->e[i - 1];
    c->e[0] = error;
    for (i = 0; i < NB; i++) sum += BF[i] * c->e[i];
    for (i = 0; i < NA; i++) sum -= AF[i] * c->y[i];
    if (sum < ${floating(counts.least)}) sum = ${floating(counts.least)};
    if (sum > ${floating(counts.most)}) sum = ${floating(counts.most)};
    for (i = NA - 1; i > 0; i--) c->y[i] = c->y[i - 1];
    c->y[0] = sum;
    return sum;
}

#ifdef SELF_TEST
#include <stdio.h>

static const int32_t ERRORS[] = {
${list(errors)}
};
static const int32_t WANTED[] = {
${list(runFixed(fixed, errors))}
};
static const double WANTED_FLOAT[] = {
${list(runFloating(counts, errors).map(floating), 4)}
};

int main(void)
{
    controller c;
    controller_float f = {{0.0}, {0.0}};
    int k, wrong = 0;
    controller_reset(&c);
    for (k = 0; k < ${errors.length}; k++) {
        const int32_t y = controller_step(&c, ERRORS[k]);
        const double yf = controller_float_step(&f, ERRORS[k]);
        const double off = yf - WANTED_FLOAT[k];
        const double most = 1e-12 * ${floating(counts.most)};
        if (y != WANTED[k] || off > most || off < -most) {
            printf("sample %d: %ld and %.17g, wanted %ld and %.17g\\n", k, (long)y, yf, (long)WANTED[k], WANTED_FLOAT[k]);
            wrong = 1;
        }
        printf("%ld %.17g\\n", (long)y, yf);
    }
    return wrong;
}
#endif
`;
}

/** The file of a design's controller that samples: of its only loop, or of one of a cascade. @returns problem "sampled" where it is a network, those of its words otherwise */
export function controllerSource(d: Design, title: string, sampled: SampledFigures | undefined): Result<string> {
  if (!sampled) return fail('sampled', 'control.sampled', 'this controller is a network, and no program', 'realise it sampled');
  if (!sampled.fixed) return { ok: false, problem: sampled.problem! };
  const { control, brief } = d;
  return ok(cSource({
    name: `${d.name}: ${title}`, counts: sampled.counts, fixed: sampled.fixed,
    about: [
      `sampled once in ${print(sampled.period, 's')} at ${print(sampled.phase, '%')} of it, put out ${print(sampled.delay, 's')} later (${print(brief.frequency, 'Hz')})`,
      `converter: ${String(control.converterBits)} bits over ${print(control.converterRange as number, 'V')}; what comes out runs from ${sampled.counts.least} to ${sampled.counts.most} counts`,
      `made by the ${DISCRETISATIONS.find((m) => m.id === control.sampled)!.title} way`,
    ],
  }));
}
