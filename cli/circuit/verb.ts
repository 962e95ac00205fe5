import type { Command } from 'commander';
import { buildMachine } from '../../core/circuit/machine';
import { readCircuit } from '../../core/interchange/circuitFile';
import { readProbe, usualProbes } from '../../core/interchange/probe';
import { describeProblem } from '../../core/problem';
import { injectLoop, respond, respondLoop } from './respond';
import { transient } from './transient';
import { fileText, must, Refusal, type Options } from './say';
import { settled } from './settled';

/** reed circuit FILE …: any circuit file on the engine. */
export function addCircuitVerb(program: Command, finish: (code: number) => void): void {
  program
    .command('circuit')
    .summary('run any circuit file: settled cycle, transient, small-signal response, loop gain')
    .description(
      'Run any circuit file (docs/circuit-file.md): settled cycle, transient, exact small-signal response, loop gain exactly or by injection in time.\n\n' +
        'JSON: settle → period, closure, multipliers[{re,im,size}], leaves{code,message,remedy} or null, signals{name:{mean,rms,min,max,peakToPeak,harmonics?}}; run → time[], signals{name:[]}, or edges[], signals{name:{least[],most[]}} with --thin; ' +
        'response, loop → response[{frequency,gain (dB),phase (degrees)}]; inject → the same with distortion, moved{gain,phase}, amplitude, good.',
    )
    .argument('<file>', 'circuit file (JSON)')
    .option('--settle', 'solve the settled cycle (what is done when nothing else is asked)')
    .option('--harmonics <count>', 'with the settled cycle: so many harmonics of each quantity')
    .option('--run <time>', 'run for a time, like 2ms; with --csv or --json every event and drawing point')
    .option('--begin <where>', 'begin the run at: rest, settled, or a file that --keep has written', 'rest')
    .option('--keep <file>', 'write the state the run ends in, to go on from later')
    .option('--step <time>', 'time between drawing points (default: a 400th of the run)')
    .option('--thin <bins>', 'least and most in so many equal bins instead of points: no spike of a long run is lost')
    .option('--response <names...>', 'small-signal response from a source to a probe, like: duty "v(out)"')
    .option('--loop <place>', 'loop gain at a series source of 0 V, exactly')
    .option('--inject <place>', 'the same by injection in time, each point with its quality')
    .option('--amplitude <value>', 'V of each tone to begin with (default: a thousandth of what the place carries)')
    .option('--tones <count>', 'tones injected at once', '1')
    .option('--from <frequency>', 'lowest frequency', '100')
    .option('--to <frequency>', 'highest frequency (default: half the switching frequency)', '')
    .option('--points <count>', 'how many frequencies', '100')
    .option('--show <probes...>', 'what to show: v(node), v(node,node), i(element)')
    .option('--json', 'print JSON in SI units')
    .option('--csv', 'print CSV')
    .exitOverride()
    .action((file: string, options: Options) => {
      try {
        run(file, options);
        finish(0);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        process.stderr.write(`${file}: ${describeProblem(error.problem)}\n`);
        finish(2);
      }
    });
}

function run(file: string, o: Options): void {
  const circuit = must(readCircuit(fileText(file)));
  const probes = o.show ? o.show.map((name) => must(readProbe(circuit, name))) : usualProbes(circuit);
  const machine = must(buildMachine(circuit));
  if (o.run !== undefined) transient(machine, probes, o);
  else if (o.response) respond(circuit, machine, o);
  else if (o.loop !== undefined) respondLoop(circuit, machine, o);
  else if (o.inject !== undefined) injectLoop(circuit, machine, o);
  else settled(machine, probes, o);
}
