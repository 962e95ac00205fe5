import jsep from 'jsep';
import { fail, ok, type Result } from '../problem';
import type { ElementOf } from './elements';

/**
 * The steps of a sampled controller: assignments of arithmetic expressions, carried out on dual numbers
 * (a value and its gradient), so that the derivative of every result comes with it.
 */
export interface Dual {
  value: number;
  /** Over all of z */
  gradient: Float64Array;
}

export interface Step {
  name: string;
  text: string;
  expression: jsep.Expression;
}

const FUNCTIONS: Record<string, number> = { min: 2, max: 2, clamp: 3, abs: 1, sqrt: 1 };
const OPERATORS = new Set(['+', '-', '*', '/', '<', '<=', '>', '>=', '&&', '||']);

/**
 * Read and check a controller's steps: known names only, each output assigned.
 * Problem "step": which one, and what would be right.
 */
export function readProgram(e: ElementOf<'sampled-control'>): Result<Step[]> {
  const steps: Step[] = [];
  const known = new Set([...Object.keys(e.inputs), ...Object.keys(e.memory)]);
  for (const [index, text] of e.steps.entries()) {
    const where = `${e.id}.steps.${index}`;
    const match = /^\s*([A-Za-z_][A-Za-z0-9_]*)\s*=(?!=)(.*)$/.exec(text);
    if (!match) return fail('step', where, `"${text}" assigns nothing`, 'write name = expression');
    const name = match[1]!;
    if (Object.hasOwn(e.inputs, name)) return fail('step', where, `${name} is an input`, 'assign to another name');
    let expression: jsep.Expression;
    try {
      expression = jsep(match[2]!);
    } catch (error) {
      return fail('step', where, `"${text}" can not be read: ${(error as Error).message}`, 'use numbers, names, + − * /, comparisons, c ? a : b, and the functions min, max, clamp, abs, sqrt');
    }
    const wrong = check(expression, known);
    if (wrong !== undefined) return fail('step', where, `in "${text}" ${wrong}`, `known here: ${[...known].join(', ') || 'no names yet'}; functions ${Object.keys(FUNCTIONS).join(', ')}`);
    known.add(name);
    steps.push({ name, text, expression });
  }
  for (const name of Object.keys(e.outputs))
    if (Object.hasOwn(e.inputs, name) || !known.has(name)) return fail('step', `${e.id}.outputs`, `no step gives ${name}`, `add "${name} = …"`);
  return ok(steps);
}

/** What is wrong with an expression, in words. */
function check(x: jsep.Expression, known: ReadonlySet<string>): string | undefined {
  const parts = (...list: unknown[]): string | undefined => {
    for (const part of list) {
      const wrong = check(part as jsep.Expression, known);
      if (wrong !== undefined) return wrong;
    }
    return undefined;
  };
  switch (x.type) {
    case 'Literal':
      return typeof x.value === 'number' && Number.isFinite(x.value) ? undefined : `${String(x.raw)} is no number`;
    case 'Identifier':
      return known.has(String(x.name)) ? undefined : `${String(x.name)} has no value`;
    case 'UnaryExpression':
      return x.operator === '-' || x.operator === '+' ? parts(x.argument) : `the operator ${String(x.operator)} is not known`;
    case 'BinaryExpression':
      return OPERATORS.has(String(x.operator)) ? parts(x.left, x.right) : `the operator ${String(x.operator)} is not known`;
    case 'ConditionalExpression':
      return parts(x.test, x.consequent, x.alternate);
    case 'CallExpression': {
      const callee = String((x.callee as jsep.Identifier).name);
      const args = x.arguments as jsep.Expression[];
      if (!Object.hasOwn(FUNCTIONS, callee)) return `there is no function ${callee}`;
      return args.length === FUNCTIONS[callee] ? parts(...args) : `${callee} takes ${FUNCTIONS[callee]} values`;
    }
    default:
      return 'there is something that is no arithmetic';
  }
}

/**
 * Carry out the steps; `values` begins with the inputs and the memory and ends with every result in it.
 * Problem "step" where a result is not finite.
 */
export function runProgram(id: string, steps: readonly Step[], values: Map<string, Dual>): Result<void> {
  for (const { name, text, expression } of steps) {
    const result = evaluate(expression, values);
    if (!Number.isFinite(result.value)) return fail('step', id, `"${text}" has no finite value`, 'keep its divisor away from zero, or clamp it');
    values.set(name, result);
  }
  return ok(undefined);
}

const plain = (value: number): Dual => ({ value, gradient: NOTHING });
const NOTHING = new Float64Array(0);
const truth = (condition: boolean): Dual => plain(condition ? 1 : 0);

/** a·x + b·y of two gradients, either of which may be nothing. */
function combine(a: number, x: Float64Array, b: number, y: Float64Array): Float64Array {
  if (x.length === 0 && y.length === 0) return NOTHING;
  const out = new Float64Array(Math.max(x.length, y.length));
  if (a !== 0) for (let i = 0; i < x.length; i++) out[i]! += a * x[i]!;
  if (b !== 0) for (let i = 0; i < y.length; i++) out[i]! += b * y[i]!;
  return out;
}

function evaluate(x: jsep.Expression, values: ReadonlyMap<string, Dual>): Dual {
  const at = (part: unknown): Dual => evaluate(part as jsep.Expression, values);
  switch (x.type) {
    case 'Literal':
      return plain(x.value as number);
    case 'Identifier':
      return values.get(String(x.name))!;
    case 'UnaryExpression': {
      const a = at(x.argument);
      return x.operator === '-' ? { value: -a.value, gradient: combine(-1, a.gradient, 0, NOTHING) } : a;
    }
    case 'ConditionalExpression':
      return at(x.test).value !== 0 ? at(x.consequent) : at(x.alternate);
    case 'CallExpression':
      return call(String((x.callee as jsep.Identifier).name), (x.arguments as jsep.Expression[]).map(at));
    default:
      return operate(String(x.operator), at(x.left), at(x.right));
  }
}

function operate(operator: string, a: Dual, b: Dual): Dual {
  switch (operator) {
    case '+':
      return { value: a.value + b.value, gradient: combine(1, a.gradient, 1, b.gradient) };
    case '-':
      return { value: a.value - b.value, gradient: combine(1, a.gradient, -1, b.gradient) };
    case '*':
      return { value: a.value * b.value, gradient: combine(b.value, a.gradient, a.value, b.gradient) };
    case '/':
      return { value: a.value / b.value, gradient: combine(1 / b.value, a.gradient, -a.value / b.value ** 2, b.gradient) };
    case '<':
      return truth(a.value < b.value);
    case '<=':
      return truth(a.value <= b.value);
    case '>':
      return truth(a.value > b.value);
    case '>=':
      return truth(a.value >= b.value);
    case '&&':
      return truth(a.value !== 0 && b.value !== 0);
    default:
      return truth(a.value !== 0 || b.value !== 0);
  }
}

function call(name: string, [a, b, c]: Dual[]): Dual {
  switch (name) {
    case 'min':
      return a!.value <= b!.value ? a! : b!;
    case 'max':
      return a!.value >= b!.value ? a! : b!;
    case 'clamp':
      return a!.value < b!.value ? b! : a!.value > c!.value ? c! : a!;
    case 'abs':
      return a!.value < 0 ? { value: -a!.value, gradient: combine(-1, a!.gradient, 0, NOTHING) } : a!;
    default: {
      const root = Math.sqrt(a!.value);
      return { value: root, gradient: combine(root > 0 ? 0.5 / root : 0, a!.gradient, 0, NOTHING) };
    }
  }
}
