/** The file of the project's level: another one in its place, and the anchors that it has no node for. */
import type { Anchor } from '@foreshore/document';
import { followAnchors, lostAnchors, namesLike } from '@foreshore/level';
import { packLevel } from '@foreshore/level/pack';
import { Select, UnstyledButton } from '@mantine/core';
import { useMemo, useRef, useState } from 'react';
import { useEngine } from '../../questions/engine-context.ts';
import { api } from '../../state/api.ts';
import { useBench } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { levelForPage } from '../../state/load-level.ts';
import { say, sayFailed } from '../../state/notices.ts';
import { change } from '../../state/project.ts';
import { NO_SURFACES } from '../../words/level.ts';

export function LevelSettings() {
  const engine = useEngine();
  const document = useShown();
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const lost = useMemo(() => (document ? lostAnchors(document.anchors, engine.model) : []), [document?.anchors, engine]);
  if (!document) return null;
  const replace = async (files: File[]) => {
    setBusy(true);
    try {
      const read = await Promise.all(files.map(async (file) => ({ name: file.name, bytes: new Uint8Array(await file.arrayBuffer()) })));
      const packed = packLevel(read);
      const facts = await api.sendLevel(packed.name, packed.bytes);
      const { metresPerUnit, upAxis, clips } = document.level ?? { metresPerUnit: 1, upAxis: 'y' as const, clips: undefined };
      // As it will be opened; a large one is not read a second time here.
      const model = await levelForPage(facts.hash, { metresPerUnit, upAxis });
      const { anchors, lost: gone } = followAnchors(document.anchors, engine.model, model);
      change(`Replace the level by ${facts.fileName}`, (d) => ({
        ...d,
        anchors,
        level: { file: facts.fileName, hash: facts.hash, metresPerUnit, upAxis, ...(clips && { clips }) },
      }));
      const kept = Object.keys(anchors).length - gone.length;
      say(
        `${facts.fileName} is the level now: ${kept} anchors stand in it${gone.length ? `, ${gone.length} have no node there and are listed under Viewer, Level` : ''}.`,
      );
    } catch (error) {
      sayFailed(`The level was not replaced: ${(error as Error).message}`);
    } finally {
      setBusy(false);
    }
  };
  const relink = (id: string, node: string) =>
    change('Relink an anchor', (d) => {
      const anchor = d.anchors[id];
      return anchor ? { ...d, anchors: { ...d.anchors, [id]: tiedTo(anchor, node) } } : d;
    });
  const usersOf = (anchor: string) =>
    Object.entries(document.elements).find(([, { mount }]) => mount.kind === 'floating' && mount.anchor === anchor);
  return (
    <section className="section" aria-label="Level">
      <h2>
        Level
        <UnstyledButton className="text-button" disabled={busy} data-action="replace-level" onClick={() => input.current?.click()}>
          {busy ? 'Reading it' : 'Replace'}
        </UnstyledButton>
        <input
          ref={input}
          type="file"
          hidden
          multiple
          accept=".glb,.gltf,.bin,.png,.jpg,.jpeg,.webp"
          aria-label="A file for the level"
          onChange={(event) => {
            const files = [...(event.currentTarget.files ?? [])];
            event.currentTarget.value = '';
            if (files.length) void replace(files);
          }}
        />
      </h2>
      <p className="hint">
        {document.level
          ? `${document.level.file}. Anchors follow by the names of nodes, and by the surfaces they lie on.`
          : 'Empty ground.'}
      </p>
      {!engine.model.hasSurfaces && <p className="unfinished">{NO_SURFACES}</p>}
      {lost.length > 0 && (
        <ul className="unfinished" data-lost={lost.length}>
          {lost.map((id) => {
            const anchor = document.anchors[id] as Anchor;
            const gone = anchor.kind === 'nodes' ? anchor.pattern : 'node' in anchor ? (anchor.node ?? '') : '';
            const likely = namesLike(gone, engine.model.nodeIds, 1)[0];
            const [user] = usersOf(id) ?? [];
            return (
              <li key={id}>
                {anchor.name}: there is no node {gone}.{' '}
                {likely && (
                  <UnstyledButton className="link-button" onClick={() => relink(id, likely)}>
                    Relink to {likely}
                  </UnstyledButton>
                )}{' '}
                {user && (
                  <UnstyledButton className="link-button" onClick={() => useBench.setState({ selection: user, rail: 'content' })}>
                    Select what stands there
                  </UnstyledButton>
                )}
                <Select
                  size="xs"
                  searchable
                  aria-label={`A node for ${anchor.name}`}
                  placeholder="Another node"
                  data={[...new Set(engine.model.nodeIds)]}
                  limit={80}
                  onChange={(node) => node && relink(id, node)}
                />
              </li>
            );
          })}
        </ul>
      )}
    </section>
  );
}

/** An anchor on another node, at the same place in its space. */
function tiedTo(anchor: Anchor, node: string): Anchor {
  if (anchor.kind === 'nodes') return { ...anchor, pattern: node };
  return anchor.kind === 'node' || anchor.kind === 'surface' ? { ...anchor, node } : anchor;
}
