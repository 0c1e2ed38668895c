/** The `foreshore` command. Exit status: 0 done, 1 the input has faults, 2 the call's words are off. */
import { DocumentError } from '@foreshore/document';
import { LevelError } from '@foreshore/level';
import { Command, CommanderError } from 'commander';
import { projectCommand } from './project.ts';
import { type ReasonsOptions, reasonsCommand } from './reasons.ts';
import { type SolveOptions, solveCommand } from './solve.ts';
import { UsageError } from './usage.ts';
import { validateCommand } from './validate.ts';

const program = new Command('foreshore')
  .description('Projects points, solves frames and validates files, by the calculation of the Foreshore application.')
  .exitOverride()
  .showHelpAfterError('(--help tells more)');

program
  .command('project')
  .description(
    'World points to screen points: CSV "x,y,z" in metres in, CSV "x,y,depthM,inFront,inFrame" out (pixels from the top left, y down).',
  )
  .requiredOption('--lens <json>', 'the lens and its frame, for instance {"fovDeg":60,"width":1920,"height":1080,"nearM":0.1}')
  .requiredOption('--pose <numbers>', 'the camera: px,py,pz,qx,qy,qz,qw')
  .requiredOption('--points <file>', 'the CSV file; - reads standard input')
  .action((options: { lens: string; pose: string; points: string }) => {
    process.stdout.write(projectCommand(options));
  });

/** What says which frame is meant. */
const aboutFrame = (command: Command): Command =>
  command
    .requiredOption('--viewer <id>', 'the viewer')
    .option('--route <id>', 'the route on which the camera rides')
    .option('--at <seconds>', 'the time on the route')
    .option('--pose <numbers>', 'the camera instead of a route: px,py,pz,qx,qy,qz,qw')
    .option('--language <tag>', "the language of the texts, one of the project's")
    .option('--device <name>', "the player's device, for keys: keyboard, gamepad, touch or hand", 'keyboard')
    .option('--phase <id>', "the phase instead of the route's own");

aboutFrame(program.command('solve'))
  .description('One frame of one viewer. PROJECT is a document with its level beside it, or a .foreshore.zip.')
  .argument('<project>')
  .option('--json', 'write the frame to standard output')
  .option('--svg <file>', 'write the overlay as SVG')
  .action(async (file: string, options: SolveOptions) => {
    process.stdout.write(await solveCommand(file, options));
  });

aboutFrame(program.command('reasons'))
  .description('Why an element is shown or hidden in one frame: each step of its chain with what it came to.')
  .argument('<project>')
  .argument('<element>', 'its id, or that of one of its places')
  .option('--would-show', 'also the smallest changes that would show it, each solved again')
  .option('--json', 'as JSON')
  .action(async (file: string, id: string, options: ReasonsOptions) => {
    process.stdout.write(await reasonsCommand(file, id, options));
  });

program
  .command('validate')
  .description('Checks a document, a project file or a level; each fault on its own line with its JSON Pointer.')
  .argument('<file>')
  .action(async (file: string) => {
    const { out, err, status } = await validateCommand(file);
    process.stderr.write(err);
    process.stdout.write(out);
    process.exitCode = status;
  });

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
  else if (error instanceof UsageError) {
    process.stderr.write(`${error.message}\n`);
    process.exitCode = 2;
  } else if (error instanceof DocumentError || error instanceof LevelError || (error as NodeJS.ErrnoException).code === 'ENOENT') {
    process.stderr.write(`${(error as Error).message}\n`);
    process.exitCode = 1;
  } else throw error;
}
