import type { Command } from 'commander';
import { CircuitError } from '../../core/circuit/error';
import { buildMachine } from '../../core/circuit/machine';
import { readCircuit } from '../../core/interchange/circuitFile';
import { beginningOf, isNetlist, readNetlist } from '../../core/interchange/readNetlist';
import { readProbe, usualProbes } from '../../core/interchange/probe';
import { describeProblem } from '../../core/problem';
import { quoted } from '../../core/quantity';
import { injectLoop, respond, respondLoop } from './respond';
import { transient } from './transient';
import { fileText, jsonText, must, oneLine, Refusal, say, type Options } from './say';
import { settled } from './settled';

/** reed circuit FILE …: any circuit file on the engine. */
export function addCircuitVerb(program: Command, finish: (code: number) => void): void {
  program
    .command('circuit')
    .summary('run any circuit file: settled cycle, transient, small-signal response, loop gain')
    .description(
      'Run any circuit file (docs/circuit-file.md): settled cycle, transient, exact small-signal response, loop gain exactly or by injection in time.\n\n' +
        'JSON (SI units; what does not exist is left out): settle → period, closure, doubt (share of the states that rounding leaves open), multipliers[{re,im,size}], leaves{code,message,remedy} or null, work{steps,events,patterns,periods,iterations}, ' +
        'power{elements{id:W taken}, given (W), residual (share), output, losses, efficiency with --output}, signals{name:{mean,rms,min,max,peakToPeak,minAt,maxAt (s), harmonics?[{order,frequency,amplitude,phase (degrees)}]}}; run → time[], signals{name:[]}, or edges[], signals{name:{least[],most[]}} with --thin; ' +
        'events → events[{time,of,cause,on[],off[]}]; response → response[{frequency,gain (dB),phase (degrees), of?}]; loop → the same with margins{crossover,phaseMargin,gainMargin (null: the phase never crosses −180°),delayMargin,slope,closest, beyond where there is no crossover}, stable; ' +
        'inject → the same as response with distortion, moved{gain,phase}, amplitude, good. Where there is no answer: problem{code,where,message,remedy}, exit code 2.',
    )
    .argument('<file>', 'circuit file (JSON), or a netlist (.cir)')
    .option('--settle', 'solve the settled cycle (what is done when nothing else is asked)')
    .option('--harmonics <count>', 'with the settled cycle: so many harmonics of each quantity')
    .option('--output <elements...>', 'with the settled cycle: elements that are the output, for losses and efficiency')
    .option('--events', 'with the settled cycle or a run: its events with their causes')
    .option('--run <time>', 'run for a time, like 2ms; with --csv or --json every event and drawing point')
    .option('--begin <where>', 'begin the run at: rest, settled, or a file that --keep has written; the search for a cycle begins there too')
    .option('--keep <file>', 'write the state the run ends in, to go on from later')
    .option('--step <time>', 'time between drawing points (default: a 400th of the run)')
    .option('--thin <bins>', 'least and most in so many equal bins instead of points: no spike of a long run is lost')
    .option('--response <names...>', 'small-signal response from a source to one probe or several, like: duty "v(out)" "i(L1)"')
    .option('--loop <place>', 'loop gain at a series source of 0 V, exactly')
    .option('--inject <place>', 'the same by injection in time, each point with its quality')
    .option('--amplitude <value>', 'V of each tone to begin with (default: a thousandth of what the place carries)')
    .option('--tones <count>', 'tones injected at once', '1')
    .option('--from <frequency>', 'lowest frequency', '100')
    .option('--to <frequency>', 'highest frequency (default: half the switching frequency)', '')
    .option('--points <count>', 'how many frequencies', '100')
    .option('--at <frequencies>', 'these frequencies instead, like 1k,2k,50k')
    .option('--grid <kind>', 'log or linear', 'log')
    .option('--show <probes...>', 'what to show: v(node), v(node,node), i(element)')
    .option('--json', 'print JSON in SI units')
    .option('--csv', 'print CSV')
    .exitOverride()
    .action((file: string, options: Options) => {
      try {
        run(file, options);
        finish(0);
      } catch (error) {
        const problem = error instanceof Refusal || error instanceof CircuitError ? error.problem : undefined;
        if (!problem) throw error;
        if (options.json) say(jsonText({ problem }));
        process.stderr.write(`${quoted(file)}: ${oneLine(describeProblem(problem))}\n`);
        finish(2);
      }
    });
}

function run(file: string, o: Options): void {
  const text = fileText(file);
  const netlist = isNetlist(text) ? must(readNetlist(text)) : undefined;
  const circuit = netlist?.circuit ?? must(readCircuit(text));
  const probes = o.show ? o.show.map((name) => must(readProbe(circuit, name))) : usualProbes(circuit);
  const machine = must(buildMachine(circuit));
  const begins = netlist && beginningOf(machine, netlist.begins);
  if (o.run !== undefined) transient(machine, probes, o, begins);
  else if (o.response) respond(circuit, machine, o);
  else if (o.loop !== undefined) respondLoop(circuit, machine, o);
  else if (o.inject !== undefined) injectLoop(circuit, machine, o);
  else settled(machine, probes, o, begins);
}
