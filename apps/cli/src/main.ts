/** The `foreshore` command. Exit status: 0 done, 1 the input has faults, 2 the call's words are off. */
import { DocumentError } from '@foreshore/document';
import { ConventionError, ExportError, ResultsError } from '@foreshore/handoff';
import { LevelError } from '@foreshore/level';
import { BackupError, FolderTaken } from '@foreshore/storage';
import { FontError } from '@foreshore/text';
import { Command, CommanderError } from 'commander';
import { anchorsCommand } from './anchors.ts';
import { backupCommand, restoreCommand } from './backup.ts';
import { type CheckOptions, checkCommand, compareCommand } from './check.ts';
import { contractCommand, type ExportOptions, exportCommand } from './export.ts';
import { projectCommand } from './project.ts';
import { type ProveOptions, proveCommand } from './prove.ts';
import { type ReasonsOptions, reasonsCommand } from './reasons.ts';
import { type SolveOptions, solveCommand } from './solve.ts';
import { UsageError } from './usage.ts';
import { validateCommand } from './validate.ts';
import { ReaderGone, write } from './write.ts';

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
  .action((options: { lens: string; pose: string; points: string }) => write(projectCommand(options)));

/** What says which frame is meant. */
const aboutFrame = (command: Command): Command =>
  command
    .requiredOption('--viewer <id>', 'the viewer')
    .option('--route <id>', 'the route on which the camera rides')
    .option('--at <seconds>', 'the time on the route')
    .option('--pose <numbers>', 'the camera instead of a route: px,py,pz,qx,qy,qz,qw')
    .option('--language <tag>', "the language of the texts, one of the project's")
    .option('--device <name>', "the player's device, for keys: keyboard, gamepad, touch or hand", 'keyboard')
    .option('--phase <id>', "the phase instead of the route's own")
    .option('--player <number>', 'of a split screen: whose part, counted from 1');

aboutFrame(program.command('solve'))
  .description('One frame of one viewer. PROJECT is a document with its level beside it, or a .foreshore.zip.')
  .argument('<project>')
  .option('--json', 'write the frame to standard output')
  .option('--svg <file>', 'write the overlay as SVG')
  .option('--eye <side>', 'of a headset: as the left or the right eye sees it; without it, as the head does')
  .action(async (file: string, options: SolveOptions) => {
    await write([await solveCommand(file, options)]);
  });

aboutFrame(program.command('reasons'))
  .description('Why an element is shown or hidden in one frame: each step of its chain with what it came to.')
  .argument('<project>')
  .argument('<element>', 'its id, or that of one of its places')
  .option('--would-show', 'also the smallest changes that would show it, each solved again')
  .option('--json', 'as JSON')
  .action(async (file: string, id: string, options: ReasonsOptions) => {
    await write([await reasonsCommand(file, id, options)]);
  });

program
  .command('validate')
  .description('Checks a document, a project file or a level; each fault on its own line with its JSON Pointer.')
  .argument('<file>')
  .action(async (file: string) => {
    const { out, err, status } = await validateCommand(file);
    process.stderr.write(err);
    process.exitCode = status;
    await write([out]);
  });

program
  .command('export')
  .description('What leaves the bench: the bundle that the runtime plays, the contract with the game, the spec sheet, fonts and pictures.')
  .argument('<project>')
  .requiredOption(
    '--to <folder, file.zip or file.glb>',
    'where to; an export that is there is replaced once the new one is whole. A .glb is the level with anchors and panels as named nodes',
  )
  .option('--convention <file>', 'how the other world counts, as JSON: axes, unit, angle of view, screen; see docs/handoff.md')
  .option('--elements <ids>', 'only these elements, with what is inside of them; commas between')
  .option('--viewers <ids>', 'only these viewers; commas between')
  .option('--with-level', 'also the level, in a form in which the runtime casts rays')
  .option('--used-letters', 'fonts with only the letters that texts of the project have; words that a game sends may need others')
  .option('--with-runtime', 'also the runtime, as modules that a web game imports: with the parts that this bundle needs, and all add-ons')
  .action(async (file: string, options: ExportOptions) => write([await exportCommand(file, options)]));

program
  .command('anchors')
  .description('Anchors read back from a level: nodes called "anchor NAME", where an export or somebody put them.')
  .argument('<project>')
  .argument('<level>', 'a .glb file')
  .option('--to <file>', 'write the project with these anchors there, in the form that it has')
  .option('--json', 'as JSON', false)
  .action(async (file: string, level: string, options: { to?: string; json: boolean }) =>
    write([await anchorsCommand(file, level, options)]),
  );

program
  .command('contract')
  .description('What a game written for one export must change for another. The status is 1 where it must.')
  .argument('<before>', 'an export: its folder, its archive, or its contract.json')
  .argument('<after>')
  .option('--json', 'as JSON', false)
  .action(async (before: string, after: string, { json }: { json: boolean }) => {
    const { out, status } = contractCommand(before, after, json);
    process.exitCode = status;
    await write([out]);
  });

program
  .command('check')
  .description('Measures every element over routes, viewers and languages. The status is 1 where something fails. See docs/check.md.')
  .argument('<project...>', 'the project; with --merge, the results of shards')
  .option('--routes <ids>', 'only these routes; commas between')
  .option('--viewers <ids>', 'only these viewers')
  .option('--languages <tags>', 'only these languages')
  .option(
    '--variants <names>',
    'also with least, greatest (all feeds), gamepad, touch, hand, shake, phase:ID; instead of what the project chooses',
  )
  .option('--baseline <file>', 'the results of an earlier check, as --format json wrote them')
  .option('--fail-on <what>', 'new or worse (than the baseline), or any; new where there is a baseline, else any')
  .option('--format <name>', 'text, json, sarif, junit or html', 'text')
  .option('--out <file>', 'write it there instead of to standard output')
  .option('--shard <i/n>', 'measure only the i-th of n shares; write it as json and --merge them')
  .option('--jobs <n>', 'so many processes on this machine')
  .option('--merge', 'put the results of shards together')
  .option('--project <file>', 'with --merge and html: the project that was measured, for pictures')
  .action(async (files: string[], options: CheckOptions) => {
    const { out, status } = await checkCommand(files, options);
    process.exitCode = status;
    await write([out]);
  });

program
  .command('compare')
  .description(
    'What is new, worse, better or gone from one check to another; of two projects also what changed without being edited. The status is 1 where something is new or worse.',
  )
  .argument('<before>', 'the results of a check, as --format json wrote them; or a project, which is measured')
  .argument('<after>')
  .option('--json', 'as JSON', false)
  .action(async (before: string, after: string, { json }: { json: boolean }) => {
    const { out, status } = await compareCommand(before, after, json);
    process.exitCode = status;
    await write([out]);
  });

program
  .command('prove')
  .description('Frames that a port of the calculation must give; or what a port made of them, and which known fault explains it.')
  .argument('<project>', 'a project, or proof frames that were exported')
  .option('--export <folder>', 'write the frames there, as JSON and CSV')
  .option('--against <results>', 'the results of a port, as JSON or CSV; the status is 1 where they differ')
  .option('--convention <file>', 'how the other world counts')
  .option('--json', 'as JSON')
  .action(async (file: string, options: ProveOptions) => {
    const { out, status } = await proveCommand(file, options);
    process.exitCode = status;
    await write([out]);
  });

program
  .command('backup')
  .description('Copies all projects, their revisions and their files into a folder of its own, while a server may be working on them.')
  .argument('<folder>', 'a new or an empty folder')
  .option('--data <folder>', 'the data folder', 'data')
  .action(async (folder: string, { data }: { data: string }) => write([await backupCommand(data, folder)]));

program
  .command('restore')
  .description('Puts a backup into a data folder that no server works on.')
  .argument('<folder>', 'the backup')
  .option('--data <folder>', 'the data folder', 'data')
  .option('--replace', 'in place of what is in the data folder, which is then kept beside it', false)
  .action(async (folder: string, { data, replace }: { data: string; replace: boolean }) =>
    write([await restoreCommand(folder, data, replace)]),
  );

/** Where 1 says that something was found, what cannot be read is another number: a build must not take the one for the other. */
const FINDS = ['check', 'compare', 'prove', 'contract'];
let faulty = 1;
program.hook('preAction', (_, action) => {
  faulty = FINDS.includes(action.name()) ? 2 : 1;
});

/** What went wrong as a sentence, and the exit status. No stack is for whoever calls a program by its name. */
function ended(error: unknown): [status: number, words: string] {
  if (error instanceof CommanderError) return [error.exitCode === 0 ? 0 : 2, ''];
  if (error instanceof ReaderGone) return [0, ''];
  if (error instanceof UsageError) return [2, error.message];
  if (error instanceof DocumentError || error instanceof LevelError || error instanceof BackupError || error instanceof FolderTaken)
    return [faulty, error.message];
  if (error instanceof FontError || error instanceof ExportError || error instanceof ConventionError || error instanceof ResultsError)
    return [faulty, error.message];
  const { code, message, path } = error as NodeJS.ErrnoException;
  if (code && FILES[code]) return [faulty, `${path ?? 'standard output'}: ${FILES[code]}.`];
  return [faulty, `This failed inside of Foreshore: ${message}`];
}
const FILES: Record<string, string> = {
  ENOENT: 'is not there',
  EISDIR: 'is a folder; a file is meant',
  ENOTDIR: 'lies in something that is no folder',
  EACCES: 'may not be read or written',
  EPERM: 'may not be read or written',
  ENOSPC: 'the device is full',
  EDQUOT: 'the device is full',
  EFBIG: 'is larger than is allowed',
  EROFS: 'cannot be written to',
  ERR_FS_FILE_TOO_LARGE: 'is larger than can be read',
  ERR_STRING_TOO_LONG: 'is larger than can be read',
};

try {
  await program.parseAsync();
} catch (error) {
  const [status, words] = ended(error);
  process.exitCode = status;
  if (words) process.stderr.write(`${words}\n`);
}
