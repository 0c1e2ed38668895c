// npm run game: a made-up game that connects to the bench and walks the project's first route. Installs what is missing.
import { install, needNode, run } from './house.mjs';

needNode();
await install();
process.exitCode = await run(process.execPath, ['--import', 'tsx', 'examples/game/main.ts', ...process.argv.slice(2)]);
