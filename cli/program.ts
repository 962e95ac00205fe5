import { Command, CommanderError } from 'commander';
import { addCircuitVerb } from './circuit/verb';
import { quoted } from '../core/quantity';
import { oneLine } from './circuit/say';
import { addLoopVerbs } from './loopVerbs';
import { addNewVerb } from './make';
import { addRunVerb } from './runVerb';
import { addDiffVerb } from './diffVerb';
import { addFaultsVerb } from './faultsVerb';
import { addHeatVerb } from './heatVerb';
import { addFilterVerb } from './filterVerb';
import { addMainsVerb } from './mainsVerb';
import { addNoiseVerb } from './noiseVerb';
import { addMapVerb } from './mapVerb';
import { addNetlistVerb } from './netlistVerb';
import { addReportVerb } from './reportVerb';
import { addSearchVerb } from './searchVerb';
import { addSpreadVerb, addWorkerVerb } from './spreadVerb';
import { addSweepVerb } from './sweepVerb';
import { addRegionVerb } from './regionVerb';
import { addWindVerb } from './windVerb';
import { verbs } from './verbs';

/**
 * reed: the core without a browser. What it has to say goes to the standard output, what is wrong to the standard error.
 * @param args what stands behind the command's name
 * @returns the exit code: 0 holds, 1 a requirement fails, 2 cannot be used; when it is there, where others have a part in it
 */
export function reed(args: readonly string[]): number | Promise<number> {
  const program = new Command('reed')
    .description('Sizes a switching converter and judges it over line and load, from a design file.')
    .helpCommand(false)
    .exitOverride()
    .configureOutput({ writeOut: (text) => process.stdout.write(text), writeErr: (text) => process.stderr.write(text) });
  let code: number | Promise<number> = 0;
  for (const verb of verbs) {
    const command = program
      .command(verb.name)
      .summary(verb.summary)
      .description(verb.description)
      .argument('<design>', 'design file (JSON)')
      .option('--json', 'print JSON in SI units')
      .exitOverride();
    if (verb.atPoint)
      command
        .option('--line <volts>', 'line voltage, like 48 or 48V (default: middle of the range)')
        .option('--load <amps>', 'load current, like 4 or 400m (default: full load)');
    if (verb.atPoint)
      command
        .option('--air <celsius>', 'air temperature in °C (default: hottest of the brief)')
        .option('--angle <degrees>', 'where the line is the mains: angle after its zero crossing (default: the crest)');
    if (verb.junit) command.option('--junit', 'print the verdict as JUnit XML').option('--within <time>', 'time that it may take, like 10s; exit code 2 where it does not suffice');
    if (verb.name === 'loop') command.option('--at <frequencies or place>', 'loop gain at these frequencies, like 1k,2k,5k; or broken at a place: output, current, comparator, command');
    command.action((file: string, options: Record<string, string | true>) => {
      code = verb.run(file, options);
    });
  }

  addNewVerb(program, (finished) => (code = finished));
  addLoopVerbs(program, (finished) => (code = finished));
  addRunVerb(program, (finished) => (code = finished));
  addSweepVerb(program, (finished) => (code = finished));
  addMainsVerb(program, (finished) => (code = finished));
  addFilterVerb(program, (finished) => (code = finished));
  addNoiseVerb(program, (finished) => (code = finished));
  addMapVerb(program, (finished) => (code = finished));
  addFaultsVerb(program, (finished) => (code = finished));
  addHeatVerb(program, (finished) => (code = finished));
  addWindVerb(program, (finished) => (code = finished));
  addDiffVerb(program, (finished) => (code = finished));
  addSpreadVerb(program, (finished) => (code = finished));
  addNetlistVerb(program, (finished) => (code = finished));
  addReportVerb(program, (finished) => (code = finished));
  addWorkerVerb(program, (finished) => (code = finished));
  addSearchVerb(program, (finished) => (code = finished));
  addRegionVerb(program, (finished) => (code = finished));
  addCircuitVerb(program, (finished) => (code = finished));

  // Exit code 1 says that a requirement fails, and nothing else does.
  const fault = (error: unknown): number => {
    process.stderr.write(`reed: a fault of its own: ${oneLine(quoted((error as Error).message))}; please report it with the file\n`);
    return 2;
  };
  try {
    program.parse(args, { from: 'user' });
  } catch (error) {
    return error instanceof CommanderError ? (error.exitCode === 0 ? 0 : 2) : fault(error);
  }
  const ended = code as number | Promise<number>;
  return typeof ended === 'number' ? ended : ended.catch(fault);
}
