/** npm run schemas: writes the document's JSON Schema and the game connection's AsyncAPI document into docs/. Tests hold them to be current. */
import { writeFileSync } from 'node:fs';
import { documentJsonSchema } from '@foreshore/document';
import { gameApiJson } from '@foreshore/handoff/game-api';

writeFileSync('docs/document.schema.json', documentJsonSchema());
writeFileSync('docs/game.asyncapi.json', gameApiJson());
