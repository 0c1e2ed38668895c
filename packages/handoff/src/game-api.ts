/** The game connection as an AsyncAPI 3.0 document, made from the schemas that messages are held to. */
import * as z from 'zod';
import { eventSchema, GAME_PATH, GAME_PROTOCOL, helloSchema, stateSchema, tellings } from './game.ts';

const json = (schema: z.ZodType): Record<string, unknown> => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { unrepresentable: 'any' }) as Record<string, unknown>;
  return rest;
};
/** A JSON-RPC 2.0 call; with an id it is answered. */
const call = (method: string, params: Record<string, unknown> | null, id: 'none' | 'may' | 'must') => ({
  type: 'object',
  properties: {
    jsonrpc: { const: '2.0' },
    method: { const: method },
    ...(params && { params }),
    ...(id !== 'none' && { id: { type: ['string', 'number'] } }),
  },
  required: ['jsonrpc', 'method', ...(params ? ['params'] : []), ...(id === 'must' ? ['id'] : [])],
});

const FROM_GAME = {
  hello: { summary: 'The first message: who the game is, and its token.', payload: call('hello', json(helloSchema), 'must') },
  state: { summary: 'What is so from now on; what is left out stays as it was.', payload: call('state', json(stateSchema), 'may') },
  event: { summary: 'Something happened at a place; answered with how many have.', payload: call('event', json(eventSchema), 'may') },
  bundle: { summary: 'Asks for the bundle of what is saved.', payload: call('bundle', null, 'must') },
} as const;
const SUMMARIES: { [K in keyof typeof tellings]: string } = {
  action: 'Somebody used an element on the bench.',
  set: 'The interface sets a value; the game takes it over and says it from then on.',
  phase: 'The interface changes the state of the game.',
  held: 'The interface has the pointer, or lets go of it: meanwhile the game leaves its own reaction.',
  changed: 'The project was edited.',
};
const TO_GAME = {
  ...Object.fromEntries(
    Object.entries(tellings).map(([method, schema]) => [
      method,
      { summary: SUMMARIES[method as keyof typeof SUMMARIES], payload: call(method, json(schema), 'none') },
    ]),
  ),
  ping: {
    summary: 'Once a second; the game answers with a result, so that the way there and back is known.',
    payload: call('ping', null, 'must'),
  },
};

export function gameApi(): Record<string, unknown> {
  const messages = { ...FROM_GAME, ...TO_GAME };
  const refs = (names: readonly string[]) => names.map((name) => ({ $ref: `#/channels/game/messages/${name}` }));
  return {
    asyncapi: '3.0.0',
    info: {
      title: 'Foreshore game connection',
      version: String(GAME_PROTOCOL),
      description:
        'JSON-RPC 2.0 over a WebSocket between a running game and the bench. Places, rotations and angles are in the convention of the project; times are seconds.',
    },
    servers: { bench: { host: '127.0.0.1:4180', protocol: 'ws' } },
    defaultContentType: 'application/json',
    channels: {
      game: {
        address: `${GAME_PATH}?project={project}`,
        parameters: { project: { description: 'The id of the project, as the address of the bench has it.' } },
        messages: Object.fromEntries(Object.keys(messages).map((name) => [name, { $ref: `#/components/messages/${name}` }])),
      },
    },
    operations: {
      fromGame: { action: 'receive', channel: { $ref: '#/channels/game' }, messages: refs(Object.keys(FROM_GAME)) },
      toGame: { action: 'send', channel: { $ref: '#/channels/game' }, messages: refs(Object.keys(TO_GAME)) },
    },
    components: { messages },
  };
}
export const gameApiJson = (): string => `${JSON.stringify(gameApi(), null, 2)}\n`;
