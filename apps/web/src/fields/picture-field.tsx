/** Choosing one of the project's pictures, or bringing a new one from a file. */
import { freeId, inOrder, MOST_PICTURE_BYTES, orderAfter } from '@foreshore/document';
import { ActionIcon, Select } from '@mantine/core';
import { IconPhotoUp } from '@tabler/icons-react';
import { useRef } from 'react';
import { api } from '../state/api.ts';
import { useShown } from '../state/beside.tsx';
import { say, sayFailed } from '../state/notices.ts';
import { change, useProject } from '../state/project.ts';
import { sanitizeSvg } from './sanitize-svg.ts';

const TYPES = '.png,.jpg,.jpeg,.webp,.svg,image/png,image/jpeg,image/webp,image/svg+xml';

/** Sends a file to the server, which checks it, and adds it to the project. Its id, or null where it was refused. */
export async function bringPicture(file: File): Promise<string | null> {
  try {
    if (file.size > MOST_PICTURE_BYTES) throw new Error(`"${file.name}" is larger than ${MOST_PICTURE_BYTES / 1048576} MB.`);
    const bytes = sanitizeSvg(new Uint8Array(await file.arrayBuffer()));
    const { hash, type, widthPx, heightPx } = await api.sendPicture(file.name, bytes);
    const pictures = useProject.getState().document?.pictures ?? {};
    const known = Object.entries(pictures).find(([, picture]) => picture.hash === hash);
    if (known) return known[0];
    const name = file.name.replace(/\.[^.]+$/, '') || 'Picture';
    const id = freeId(pictures, name);
    const done = change(`Bring ${name}`, (d) => ({
      ...d,
      pictures: { ...d.pictures, [id]: { name: name.slice(0, 200), order: orderAfter(d.pictures ?? {}), hash, type, widthPx, heightPx } },
    }));
    if (!done) return null;
    say(`${name} was added: ${widthPx} x ${heightPx} px.`);
    return id;
  } catch (error) {
    sayFailed(error instanceof Error ? error.message : String(error));
    return null;
  }
}

interface Props {
  label: string;
  value: string | null;
  /** Null may be chosen, and is called this. */
  none?: string;
  onChange: (picture: string | null) => void;
}

export function PictureField({ label, value, none, onChange }: Props) {
  const document = useShown();
  const input = useRef<HTMLInputElement>(null);
  const pictures = inOrder(document?.pictures ?? {}).filter(([, { type }]) => type !== 'text/html');
  return (
    <div className="picture-field">
      <Select
        size="xs"
        label={label}
        placeholder={none ?? (pictures.length ? 'Choose one' : 'Bring one first')}
        clearable={none !== undefined}
        allowDeselect={none !== undefined}
        value={value}
        data={pictures.map(([id, { name }]) => ({ value: id, label: name }))}
        onChange={onChange}
      />
      <ActionIcon
        variant="transparent"
        className="icon-button"
        aria-label={`Bring a file for ${label}`}
        title="Bring a file: PNG, JPEG, WebP or SVG"
        onClick={() => input.current?.click()}
      >
        <IconPhotoUp size={17} />
      </ActionIcon>
      <input
        ref={input}
        type="file"
        hidden
        accept={TYPES}
        onChange={(event) => {
          const file = event.currentTarget.files?.[0];
          event.currentTarget.value = '';
          if (file)
            void bringPicture(file).then((id) => {
              if (id) onChange(id);
            });
        }}
      />
    </div>
  );
}
