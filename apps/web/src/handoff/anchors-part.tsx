/** The level with its anchors as nodes: taken to another program, and read back from there. */

import type { Document } from '@foreshore/document';
import { type ReadAnchors, readAnchors, sayAnchorChange, sayAnchorsRead } from '@foreshore/handoff/gltf-anchors';
import { Button, FileButton } from '@mantine/core';
import { IconDownload, IconFileImport } from '@tabler/icons-react';
import { useState } from 'react';
import { sayFailed } from '../state/notices.ts';
import { change } from '../state/project.ts';

/** Larger files are no levels. */
const MOST_BYTES = 256 * 1024 * 1024;
/** So many are named; the rest are counted. */
const MOST_NAMED = 12;

interface Shown {
  read: ReadAnchors;
  bytes: Uint8Array;
}

export function AnchorsPart({ id, document }: { id: string; document: Document }) {
  const [shown, setShown] = useState<Shown | null>(null);
  const read = async (file: File | null): Promise<void> => {
    if (!file) return;
    try {
      if (file.size > MOST_BYTES) throw new Error(`"${file.name}" is larger than a level can be.`);
      const bytes = new Uint8Array(await file.arrayBuffer());
      setShown({ read: readAnchors(bytes, document), bytes });
    } catch (error) {
      setShown(null);
      sayFailed(`"${file.name}" cannot be read: ${(error as Error).message}`);
    }
  };
  const takeOver = ({ bytes }: Shown): void => {
    // What was changed since it was read stays, but for what the file says.
    change('Take anchors from a level', (now) => ({ ...now, anchors: readAnchors(bytes, now).anchors }));
    setShown(null);
  };
  const changes = shown?.read.changes ?? [];
  return (
    <section className="handoff-part" aria-label="Anchors in the level">
      <h2>Anchors in the level</h2>
      <p className="hint">
        The level as glTF, in which every anchor is a node called “anchor NAME” and every standing panel one called “panel NAME”. Move them
        in the program the level is made in, or add such nodes, and read them back.
      </p>
      <div className="handoff-buttons">
        {document.level?.hash && (
          <Button
            size="xs"
            variant="default"
            component="a"
            href={`/api/projects/${id}/anchored-level`}
            download
            leftSection={<IconDownload size={15} />}
          >
            Take the level
          </Button>
        )}
        <FileButton onChange={(file) => void read(file)} accept=".glb">
          {(props) => (
            <Button {...props} size="xs" variant="default" leftSection={<IconFileImport size={15} />}>
              Read anchors back
            </Button>
          )}
        </FileButton>
      </div>
      {!document.level?.hash && <p className="hint">The project has no level yet: there is nothing to take.</p>}
      {shown && (
        <div role="status" className="anchors-read">
          <p>{sayAnchorsRead(shown.read)}</p>
          <ul>
            {changes.slice(0, MOST_NAMED).map((one) => (
              <li key={one.id}>{sayAnchorChange(one)}</li>
            ))}
            {changes.length > MOST_NAMED && <li>and {changes.length - MOST_NAMED} more</li>}
            {shown.read.faults.slice(0, MOST_NAMED).map((fault) => (
              <li key={fault}>{fault}</li>
            ))}
          </ul>
          <div className="handoff-buttons">
            {changes.length > 0 && (
              <Button size="xs" onClick={() => takeOver(shown)}>
                Take over {changes.length === 1 ? 'the change' : `${changes.length} changes`}
              </Button>
            )}
            <Button size="xs" variant="default" onClick={() => setShown(null)}>
              {changes.length > 0 ? 'Leave them' : 'Close'}
            </Button>
          </div>
        </div>
      )}
    </section>
  );
}
