/** npm run schemas: writes the document's JSON Schema into docs/. A test holds it to be current. */
import { writeFileSync } from 'node:fs';
import { documentJsonSchema } from '@foreshore/document';

writeFileSync('docs/document.schema.json', documentJsonSchema());
