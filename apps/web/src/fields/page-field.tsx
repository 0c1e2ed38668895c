/** Choosing one of the project's pages, or bringing one: an HTML file, a zip archive or a folder with its assets. */
import { freeId, inOrder, MOST_PICTURE_BYTES, orderAfter } from '@foreshore/document';
import type { NamedFile } from '@foreshore/level';
import { ActionIcon, Select } from '@mantine/core';
import { IconFileUpload, IconFolderUp } from '@tabler/icons-react';
import { zipSync } from 'fflate';
import { useRef, useState } from 'react';
import { api } from '../state/api.ts';
import { useShown } from '../state/beside.tsx';
import { say, sayFailed } from '../state/notices.ts';
import { change, useProject } from '../state/project.ts';
import { droppedFiles, readAll } from './dropped.ts';

/** Sends a page with its assets to the server, which puts them into one file, and adds it to the project. Its id, or null where it was refused. */
async function bringPage(files: readonly NamedFile[]): Promise<string | null> {
  const [first] = files;
  if (!first) return null;
  try {
    const single = files.length === 1 && /\.(?:html?|zip)$/i.test(first.name);
    const file = single ? first.name : `${first.name.split('/')[0]}.zip`;
    const bytes = single ? first.bytes : zipSync(Object.fromEntries(files.map(({ name, bytes }) => [name, bytes])));
    if (bytes.byteLength > MOST_PICTURE_BYTES) throw new Error(`"${file}" is larger than ${MOST_PICTURE_BYTES / 1048576} MB.`);
    const { hash, type, widthPx, heightPx, missing } = await api.sendPage(file.split('/').at(-1) as string, bytes);
    const pictures = useProject.getState().document?.pictures ?? {};
    const known = Object.entries(pictures).find(([, picture]) => picture.hash === hash);
    if (known) return known[0];
    const name = (file.split('/').at(-1) as string).replace(/\.[^.]+$/, '').slice(0, 200) || 'Page';
    const id = freeId(pictures, name);
    const entry = { name, order: orderAfter(pictures), hash, type, widthPx, heightPx, ...(missing && { missing }) };
    if (!change(`Bring ${name}`, (d) => ({ ...d, pictures: { ...d.pictures, [id]: entry } }))) return null;
    const lacks = missing
      ? `, without ${missing.slice(0, 3).join(', ')}${missing.length > 3 ? ` and ${missing.length - 3} more` : ''}`
      : '';
    (missing ? sayFailed : say)(`${name} was added: ${widthPx} x ${heightPx} px${lacks}.`);
    return id;
  } catch (error) {
    sayFailed(error instanceof Error ? error.message : String(error));
    return null;
  }
}

interface Props {
  label: string;
  value: string | null;
  onChange: (page: string | null) => void;
}

export function PageField({ label, value, onChange }: Props) {
  const document = useShown();
  const [file, folder] = [useRef<HTMLInputElement>(null), useRef<HTMLInputElement>(null)];
  const [over, setOver] = useState(false);
  const pages = inOrder(document?.pictures ?? {}).filter(([, { type }]) => type === 'text/html');
  const bring = async (files: { file: File; path: string }[]) => {
    const id = await bringPage(await readAll(files));
    if (id) onChange(id);
  };
  const chosen = (event: React.ChangeEvent<HTMLInputElement>) => {
    const files = [...(event.currentTarget.files ?? [])].map((one) => ({ file: one, path: one.webkitRelativePath || one.name }));
    event.currentTarget.value = '';
    void bring(files);
  };
  return (
    <div
      className={`picture-field page-field${over ? ' is-over' : ''}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void droppedFiles(event.dataTransfer).then(bring);
      }}
    >
      <Select
        size="xs"
        label={label}
        placeholder={pages.length ? 'Choose one' : 'Bring or drop one'}
        allowDeselect={false}
        value={value}
        data={pages.map(([id, { name }]) => ({ value: id, label: name }))}
        onChange={onChange}
      />
      <ActionIcon
        variant="transparent"
        className="icon-button"
        aria-label={`Bring a file for ${label}`}
        title="Bring a file: HTML, or a zip of it and its assets"
        onClick={() => file.current?.click()}
      >
        <IconFileUpload size={17} />
      </ActionIcon>
      <ActionIcon
        variant="transparent"
        className="icon-button"
        aria-label={`Bring a folder for ${label}`}
        title="Bring a folder: a page and its assets"
        onClick={() => folder.current?.click()}
      >
        <IconFolderUp size={17} />
      </ActionIcon>
      <input ref={file} type="file" hidden accept=".html,.htm,.zip,text/html,application/zip" onChange={chosen} />
      <input ref={folder} type="file" hidden onChange={chosen} {...{ webkitdirectory: '' }} />
    </div>
  );
}
