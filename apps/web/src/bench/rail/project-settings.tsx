/** What belongs to the whole project: its languages, its pictures, and the picture that stands for the pointer. */
import { freeId, inOrder, orderAfter, withoutFont, withoutPicture } from '@foreshore/document';
import { ActionIcon, Switch, TextInput } from '@mantine/core';
import { IconBrowser, IconPhotoUp, IconTrash, IconTypography, IconX } from '@tabler/icons-react';
import { type ReactNode, useRef } from 'react';
import { bringPicture, PictureField } from '../../fields/picture-field.tsx';
import { NumberRows } from '../../fields/rows.tsx';
import { api } from '../../state/api.ts';
import { useBench } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { say, sayFailed } from '../../state/notices.ts';
import { change } from '../../state/project.ts';
import { languageName } from '../../words/languages.ts';
import { weightName } from '../../words/weights.ts';
import { LevelSettings } from './level-settings.tsx';

export function ProjectSettings() {
  return (
    <>
      <LevelSettings />
      <Languages />
      <Fonts />
      <Pictures />
      <Cursor />
    </>
  );
}

/** A button that asks for files and takes them one after the other. */
function BringFiles({
  name,
  accept,
  icon,
  take,
}: {
  name: string;
  accept: string;
  icon: ReactNode;
  take: (file: File) => Promise<unknown>;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <ActionIcon variant="transparent" className="icon-button" aria-label={name} title={name} onClick={() => input.current?.click()}>
        {icon}
      </ActionIcon>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        accept={accept}
        onChange={(event) => {
          const files = [...(event.currentTarget.files ?? [])];
          event.currentTarget.value = '';
          void (async () => {
            for (const file of files) await take(file);
          })();
        }}
      />
    </>
  );
}

function Languages() {
  const document = useShown();
  if (!document) return null;
  const others = document.languages ?? [];
  const put = (what: string, languages: string[]) => change(what, (d) => ({ ...d, languages }));
  return (
    <section className="section" aria-label="Languages">
      <h2>Languages</h2>
      <p className="hint">Texts are written in {languageName(document.language)}. Each text can be given in these, too:</p>
      <ul className="members">
        {others.map((tag) => (
          <li key={tag}>
            {languageName(tag)} <code>{tag}</code>
            <ActionIcon
              variant="transparent"
              className="icon-button"
              aria-label={`Remove ${languageName(tag)}`}
              title="Remove; what was written in it stays with the texts"
              onClick={() => {
                if (useBench.getState().language === tag) useBench.setState({ language: null });
                put(
                  `Remove ${languageName(tag)}`,
                  others.filter((t) => t !== tag),
                );
              }}
            >
              <IconX size={15} />
            </ActionIcon>
          </li>
        ))}
      </ul>
      <TextInput
        size="xs"
        label="Add a language, by its tag"
        placeholder="de, ar, pt-BR"
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          const field = event.currentTarget;
          const typed = field.value.trim();
          let tag: string | undefined;
          try {
            tag = Intl.getCanonicalLocales(typed)[0];
          } catch {
            tag = undefined;
          }
          if (!tag) say(`"${typed}" is not the tag of a language. Write it as in "de" or "pt-BR".`);
          else if (tag === document.language || others.includes(tag)) say(`${languageName(tag)} is there already.`);
          else if (put(`Add ${languageName(tag)}`, [...others, tag])) field.value = '';
        }}
      />
    </section>
  );
}

/** Sends a font to the server, which checks it, and adds it to the project. */
async function bringFont(file: File): Promise<void> {
  try {
    const { hash, family, weight } = await api.sendFont(file.name, file);
    const done = change(`Bring ${family}`, (d) => {
      if (Object.values(d.fonts ?? {}).some((f) => f.hash === hash)) return d;
      const id = freeId(d.fonts ?? {}, `${family} ${weight}`);
      return { ...d, fonts: { ...d.fonts, [id]: { name: family, order: orderAfter(d.fonts ?? {}), weight, hash } } };
    });
    say(done ? `${family}, ${weightName(weight)}, was added.` : `${family}, ${weightName(weight)}, is there already.`);
  } catch (error) {
    sayFailed(error instanceof Error ? error.message : String(error));
  }
}

function Fonts() {
  const document = useShown();
  if (!document) return null;
  const fonts = inOrder(document.fonts ?? {});
  return (
    <section className="section" aria-label="Fonts">
      <h2>
        Fonts
        <span className="spring" />
        <BringFiles name="Bring fonts" accept=".ttf,.otf,.woff,.woff2" icon={<IconTypography size={17} />} take={bringFont} />
      </h2>
      <p className="hint">What a font lacks is drawn by the ones that ship: Atkinson Hyperlegible Next, then Arabic and Hebrew.</p>
      <ul className="members">
        {fonts.map(([id, { name, weight }]) => (
          <li key={id}>
            {name}, {weightName(weight)}
            <ActionIcon
              variant="transparent"
              className="icon-button"
              aria-label={`Remove ${name}, ${weightName(weight)}`}
              title="Remove"
              onClick={() => change(`Remove ${name}`, (d) => withoutFont(d, id))}
            >
              <IconX size={15} />
            </ActionIcon>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Pictures() {
  const document = useShown();
  if (!document) return null;
  const pictures = inOrder(document.pictures ?? {});
  return (
    <section className="section" aria-label="Pictures">
      <h2>
        Pictures
        <span className="spring" />
        <BringFiles
          name="Bring pictures"
          accept="image/png,image/jpeg,image/webp,image/svg+xml"
          icon={<IconPhotoUp size={17} />}
          take={bringPicture}
        />
      </h2>
      {pictures.length === 0 && <p className="hint">None yet: PNG, JPEG, WebP or SVG.</p>}
      <ul className="picture-list">
        {pictures.map(([id, { name, hash, type, widthPx, heightPx }]) => (
          <li key={id}>
            {type === 'text/html' ? (
              <IconBrowser size={32} stroke={1.25} />
            ) : (
              <img src={`/api/pictures/${hash}`} alt="" width={32} height={32} />
            )}
            <span>
              {name}{' '}
              <span className="hint num">
                {widthPx} x {heightPx}
              </span>
            </span>
            <ActionIcon
              variant="transparent"
              className="icon-button"
              aria-label={`Remove ${name}`}
              title="Remove"
              onClick={() => change(`Remove ${name}`, (d) => withoutPicture(d, id))}
            >
              <IconTrash size={15} />
            </ActionIcon>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Cursor() {
  const document = useShown();
  if (!document) return null;
  const { cursor } = document;
  const first = inOrder(document.pictures ?? {}).find(([, { type }]) => type !== 'text/html')?.[0];
  const edit = (part: Partial<NonNullable<typeof cursor>>) =>
    change('Change the cursor', (d) => (d.cursor ? { ...d, cursor: { ...d.cursor, ...part } } : d));
  return (
    <section className="section" aria-label="Cursor">
      <h2>Cursor</h2>
      <Switch
        size="xs"
        label="A picture stands for the pointer, while trying"
        checked={cursor !== undefined}
        disabled={!first}
        onChange={(event) => {
          const on = event.currentTarget.checked;
          change('Switch the cursor', ({ cursor: _, ...rest }) =>
            on && first ? { ...rest, cursor: { picture: first, overActing: null, hotSpot: [0, 0], sizePx: 40 } } : rest,
          );
        }}
      />
      {cursor && (
        <div className="fields">
          <div className="wide">
            <PictureField label="Its picture" value={cursor.picture} onChange={(picture) => picture && edit({ picture })} />
            <PictureField
              label="Over what acts"
              none="The same"
              value={cursor.overActing}
              onChange={(overActing) => edit({ overActing })}
            />
          </div>
          <NumberRows
            rows={[
              { label: 'Longer side', unit: 'px', least: 1, greatest: 2000, value: cursor.sizePx, onChange: (sizePx) => edit({ sizePx }) },
              ...[0, 1].map((k) => ({
                label: k ? 'Points at, from the top' : 'Points at, from the left',
                unit: '%',
                least: 0,
                greatest: 100,
                value: (cursor.hotSpot[k] as number) * 100,
                onChange: (v: number) => edit({ hotSpot: [k ? cursor.hotSpot[0] : v / 100, k ? v / 100 : cursor.hotSpot[1]] }),
              })),
            ]}
          />
        </div>
      )}
    </section>
  );
}
