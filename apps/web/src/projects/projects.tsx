/** The shelf: all projects, and every way to begin one. */

import type { LevelFacts, ProjectSummary } from '@foreshore/document';
import { PROJECT_FILE_EXTENSION } from '@foreshore/document';
import { packLevel } from '@foreshore/level/pack';
import { ActionIcon, Button, Menu, Modal, TextInput, UnstyledButton } from '@mantine/core';
import { IconDots, IconFileImport, IconPlus } from '@tabler/icons-react';
import { type DragEvent, useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { droppedFiles, readAll } from '../fields/dropped.ts';
import { Header } from '../shell/header.tsx';
import { Waiting } from '../shell/waiting.tsx';
import { api, LetGo, type LevelStage, Refusal } from '../state/api.ts';
import { say, sayFailed } from '../state/notices.ts';
import { closeProject } from '../state/project.ts';
import { type UnitAnswer, UnitDialog } from './unit-dialog.tsx';
import './projects.css';

interface Refused {
  what: string;
  faults: { pointer: string; message: string }[];
}

const refusalOf = (what: string, error: unknown): Refused => {
  const faults = error instanceof Refusal ? error.body.faults : (error as { faults?: Refused['faults'] }).faults;
  return { what, faults: faults ? [...faults] : [{ pointer: '', message: (error as Error).message }] };
};

const ago = (ms: number): string => {
  const minutes = Math.floor((Date.now() - ms) / 60000);
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${minutes} min ago`;
  if (minutes < 1440) return `${Math.floor(minutes / 60)} h ago`;
  return new Date(ms).toLocaleDateString();
};

const STAGE_WORDS: Record<LevelStage, string> = {
  check: 'checking it (1 of 3)',
  read: 'reading it and building its tree of triangles (2 of 3)',
  prepare: 'putting together what is drawn (3 of 3)',
};

export function Projects() {
  const navigate = useNavigate();
  const [list, setList] = useState<ProjectSummary[] | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [busy, setBusy] = useState<string | null>(null);
  const [over, setOver] = useState(false);
  const [refused, setRefused] = useState<Refused | null>(null);
  const [asking, setAsking] = useState<LevelFacts | null>(null);
  const [renaming, setRenaming] = useState<ProjectSummary | null>(null);
  const [creating, setCreating] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  /** Ends what is being read, while that is possible. */
  const letGo = useRef<AbortController | null>(null);

  const refresh = useCallback(async () => {
    try {
      setList(await api.list());
      setFailed(null);
    } catch (error) {
      setFailed((error as Error).message);
    }
  }, []);
  useEffect(() => {
    closeProject();
    document.title = 'Foreshore';
    void refresh();
  }, [refresh]);

  const open = (id: string) => navigate(`/p/${id}/bench`);

  const run = async (what: string, work: () => Promise<void>) => {
    setBusy(what);
    letGo.current = null;
    try {
      await work();
    } catch (error) {
      if (error instanceof LetGo) say('The level was let go; nothing of it is kept.');
      else setRefused(refusalOf(`${what} did not succeed`, error));
    } finally {
      setBusy(null);
    }
  };

  const begin = (facts: LevelFacts, { metresPerUnit, upAxis }: UnitAnswer) =>
    run('Making the project', async () => {
      setAsking(null);
      const name = facts.fileName.replace(/\.(glb|gltf)$/i, '') || 'Level';
      const made = await api.createFromLevel(name, { hash: facts.hash, file: facts.fileName, metresPerUnit, upAxis });
      if (facts.warnings.length)
        say(
          `${facts.fileName} was taken with ${facts.warnings.length} ${facts.warnings.length === 1 ? 'warning' : 'warnings'}: ${facts.warnings[0]?.pointer} ${facts.warnings[0]?.message}`,
        );
      open(made.id);
    });

  const take = (files: { file: File; path: string }[]) => {
    const [first] = files;
    if (!first) return;
    if (first.path.toLowerCase().endsWith(PROJECT_FILE_EXTENSION) || first.path.toLowerCase().endsWith('.zip'))
      return run('Importing', async () => {
        const made = await api.importFile(first.file);
        say(`${made.document.name} was imported.`);
        await refresh();
      });
    return run('Reading the level', async () => {
      const packed = packLevel(await readAll(files));
      const going = new AbortController();
      letGo.current = going;
      const facts = await api.sendLevel(packed.name, packed.bytes, {
        signal: going.signal,
        onStage: (stage) => setBusy(`Reading the level: ${STAGE_WORDS[stage]}`),
      });
      letGo.current = null;
      if (facts.asksUnit) setAsking(facts);
      else await begin(facts, { metresPerUnit: 1, upAxis: 'y' });
    });
  };

  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void droppedFiles(event.dataTransfer).then(take);
  };

  const remove = async (project: ProjectSummary) => {
    try {
      await api.remove(project.id);
      say(`${project.name} was removed.`, { label: 'Bring it back', run: () => void api.restore(project.id).then(refresh) });
      await refresh();
    } catch (error) {
      sayFailed((error as Error).message);
    }
  };

  return (
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (event.currentTarget === event.target) setOver(false);
      }}
      onDrop={onDrop}
      style={{ minHeight: '100%' }}
    >
      <Header />
      <main className="shelf">
        <div className="shelf-top">
          <div style={{ flex: 1 }}>
            <h1>Projects</h1>
            <p>Labels and other interface elements tied to a 3D level, seen through every screen they will be seen on.</p>
          </div>
          <input
            ref={picker}
            type="file"
            multiple
            hidden
            aria-label="Level or project file"
            accept=".glb,.gltf,.bin,.png,.jpg,.jpeg,.webp,.zip"
            onChange={(event) => {
              const files = [...(event.currentTarget.files ?? [])].map((file) => ({ file, path: file.name }));
              event.currentTarget.value = '';
              void take(files);
            }}
          />
          <Button variant="default" leftSection={<IconFileImport size={16} />} onClick={() => picker.current?.click()}>
            From a file
          </Button>
          <Button variant="default" onClick={() => run('Making the demo', async () => open((await api.createDemo()).id))}>
            New Low Water demo
          </Button>
          <Button leftSection={<IconPlus size={16} />} onClick={() => setCreating(true)}>
            New project
          </Button>
        </div>
        {failed && (
          <p role="alert">
            The projects cannot be listed: {failed}{' '}
            <UnstyledButton className="link-button" onClick={() => void refresh()}>
              Try again
            </UnstyledButton>
          </p>
        )}
        {!list && !failed && <Waiting what="Fetching the projects" />}
        {list && (
          <ul className="cards">
            {list.map((project) =>
              project.unreadable ? (
                <Unreadable
                  key={project.id}
                  project={project}
                  onBack={() => run('Going back', async () => void (await api.goBack(project.id), await refresh()))}
                />
              ) : (
                <li key={project.id} className="card" data-project={project.id}>
                  <Link to={`/p/${project.id}/bench`} className="card-picture" tabIndex={-1} aria-hidden="true">
                    {project.hasPicture ? (
                      <img src={`/api/projects/${project.id}/picture?rev=${project.revision}`} alt="" />
                    ) : (
                      <span className="no-picture">{project.level ?? 'Empty ground'}</span>
                    )}
                  </Link>
                  <div className="card-text">
                    <div style={{ flex: 1, minWidth: 0 }}>
                      <h2>
                        <Link to={`/p/${project.id}/bench`}>{project.name}</Link>
                      </h2>
                      <p className="facts">
                        {project.elements} {project.elements === 1 ? 'element' : 'elements'}, {project.anchors}{' '}
                        {project.anchors === 1 ? 'anchor' : 'anchors'}
                        <br />
                        {project.level ?? 'empty ground'}, rev {project.revision}, {ago(project.updatedAt)}
                      </p>
                    </div>
                    <Button size="xs" component={Link} to={`/p/${project.id}/bench`} aria-label={`Open ${project.name}`}>
                      Open
                    </Button>
                    <Menu position="bottom-end" withinPortal>
                      <Menu.Target>
                        <ActionIcon variant="transparent" className="icon-button" aria-label={`More for ${project.name}`}>
                          <IconDots size={18} />
                        </ActionIcon>
                      </Menu.Target>
                      <Menu.Dropdown>
                        <Menu.Item onClick={() => setRenaming(project)}>Rename</Menu.Item>
                        <Menu.Item onClick={() => run('Duplicating', async () => void (await api.duplicate(project.id), await refresh()))}>
                          Duplicate
                        </Menu.Item>
                        <Menu.Item
                          component="a"
                          href={`/api/projects/${project.id}/export`}
                          download
                          onClick={() => void sayMissing(project)}
                        >
                          Export
                        </Menu.Item>
                        <Menu.Item onClick={() => void remove(project)}>Remove</Menu.Item>
                      </Menu.Dropdown>
                    </Menu>
                  </div>
                </li>
              ),
            )}
          </ul>
        )}
        {list?.length === 0 && <p className="hint">There is no project yet. Make one, open the demo, or drop a level here.</p>}
        <div className="drop-zone" data-over={over}>
          {busy ? `${busy}…` : 'Drop a level here (.glb, or .gltf with its files or folder), or a .foreshore.zip.'}
          {busy && letGo.current && (
            <UnstyledButton className="link-button" onClick={() => letGo.current?.abort()}>
              Cancel
            </UnstyledButton>
          )}
        </div>
      </main>
      {asking && <UnitDialog facts={asking} onCancel={() => setAsking(null)} onAnswer={(answer) => void begin(asking, answer)} />}
      {refused && (
        <Modal opened onClose={() => setRefused(null)} title={refused.what} size="lg">
          <ul className="fault-list" role="alert">
            {refused.faults.map((fault) => (
              <li key={fault.pointer + fault.message}>
                {fault.pointer && <code>{fault.pointer} </code>}
                {fault.message}
              </li>
            ))}
          </ul>
        </Modal>
      )}
      {creating && (
        <NameDialog
          title="New project"
          start="Untitled"
          action="Make it"
          onClose={() => setCreating(false)}
          onName={(name) => run('Making the project', async () => open((await api.createEmpty(name)).id))}
        />
      )}
      {renaming && (
        <NameDialog
          title={`Rename ${renaming.name}`}
          start={renaming.name}
          action="Rename"
          onClose={() => setRenaming(null)}
          onName={(name) => run('Renaming', async () => void (await api.rename(renaming.id, name), await refresh()))}
        />
      )}
    </div>
  );
}

function NameDialog({
  title,
  start,
  action,
  onClose,
  onName,
}: {
  title: string;
  start: string;
  action: string;
  onClose: () => void;
  onName: (name: string) => void;
}) {
  const [name, setName] = useState(start);
  return (
    <Modal opened onClose={onClose} title={title} size="sm">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!name.trim()) return;
          onClose();
          onName(name.trim());
        }}
      >
        <TextInput
          label="Name"
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
          onFocus={(event) => event.currentTarget.select()}
          data-autofocus
          maxLength={200}
          error={name.trim() ? null : 'A project needs a name.'}
        />
        <Button type="submit" mt="md" disabled={!name.trim()}>
          {action}
        </Button>
      </form>
    </Modal>
  );
}

/** What an export goes without, because the data folder has it no more. */
async function sayMissing({ id, name }: ProjectSummary): Promise<void> {
  const { missing } = await api.missing(id).catch(() => ({ missing: [] }));
  if (missing.length)
    sayFailed(`${name} was exported without ${missing.map((one) => `the ${one.kind} ${one.name}`).join(', ')}: gone from the data folder.`);
}

/** A project whose document cannot be read: why, its file as it lies, and the last revision to go back to. */
function Unreadable({ project, onBack }: { project: ProjectSummary; onBack: () => void }) {
  const { why, readable } = project.unreadable ?? { why: '', readable: null };
  return (
    <li className="card" data-project={project.id} data-unreadable>
      <div className="card-picture" aria-hidden="true">
        <span className="no-picture">Cannot be read</span>
      </div>
      <div className="card-text" style={{ flexWrap: 'wrap' }}>
        <div style={{ flex: '1 1 100%', minWidth: 0 }}>
          <h2>{project.name}</h2>
          <p className="facts card-unreadable">{why.slice(0, 300)}</p>
        </div>
        <Button size="xs" variant="default" component="a" href={`/api/projects/${project.id}/raw`} download>
          Download what is there
        </Button>
        {readable !== null && (
          <Button size="xs" onClick={onBack}>
            Go back to rev {readable}
          </Button>
        )}
      </div>
    </li>
  );
}
