/** What the selected element contains, by its kind, above the chain of its steps. */

import { type Stretch, unfinishedOf } from '@foreshore/checks';
import {
  type Document,
  type Element,
  type ElementKind,
  type ElementOf,
  inOrder,
  isAnchored,
  isMember,
  isOnHud,
  KINDS,
} from '@foreshore/document';
import { sayLoose, sayPanelPlace } from '@foreshore/words';
import { ActionIcon, UnstyledButton } from '@mantine/core';
import { IconCopy, IconMapPin, IconTrash } from '@tabler/icons-react';
import { useMemo } from 'react';
import { editElement, removeElement } from '../../edits/edits.ts';
import { DraftText } from '../../fields/draft-fields.tsx';
import { WhichNode } from '../../fields/which-node.tsx';
import { useShownBands } from '../../questions/bands.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { kindWord } from '../../words/kinds.ts';
import { CrosshairContent } from './crosshair-content.tsx';
import { DirectionContent } from './direction-content.tsx';
import { FlickerNote } from './flicker-note.tsx';
import { GaugeContent } from './gauge-content.tsx';
import { GroupContent } from './group-content.tsx';
import { KeyContent, PressContent } from './key-content.tsx';
import { PictureContent, ScreenPaintContent, SliderContent, ToggleContent } from './kind-content.tsx';
import { LabelContent } from './label-content.tsx';
import { MotionContent } from './motion-content.tsx';
import { PageContent } from './page-content.tsx';
import { PointerContent } from './pointer-content.tsx';
import { Several } from './several.tsx';
import { duplicateElement, InstanceContent, TemplateContent, UsesContent } from './template-content.tsx';

function whereOf(document: Document, { mount }: Element): string {
  if (isOnHud(mount)) return `on the HUD, ${mount.within === 'safe' ? 'safe area' : 'whole screen'}`;
  if (isMember(mount)) return `inside ${document.elements[mount.group]?.name}`;
  if (!isAnchored(mount)) return `trailing the viewer, ${mount.distanceM} m away`;
  if (mount.kind === 'standing') return `standing at ${document.anchors[mount.anchor]?.name ?? mount.anchor}`;
  const anchor = document.anchors[mount.anchor];
  if (anchor?.kind === 'node') return `floating on ${anchor.node}`;
  if (anchor?.kind === 'midpoint')
    return `floating between ${document.anchors[anchor.first]?.name} and ${document.anchors[anchor.second]?.name}`;
  if (anchor?.kind === 'nodes') return `floating on every node that matches ${anchor.pattern}`;
  if (anchor?.kind === 'event') return 'floating where an event was';
  return anchor?.node ? `floating on ${anchor.node}, moving with it` : 'floating on a surface';
}

/** The fields of what each kind contains. */
const CONTENT: { [K in ElementKind]: (id: string, element: ElementOf<K>, document: Document) => React.ReactNode } = {
  label: (id, element) => <LabelContent id={id} element={element} />,
  group: (id, element) => <GroupContent id={id} element={element} />,
  gauge: (id, element) => <GaugeContent id={id} element={element} />,
  picture: (id, element) => <PictureContent id={id} element={element} />,
  page: (id, element) => <PageContent id={id} element={element} />,
  toggle: (id, element) => <ToggleContent id={id} element={element} />,
  slider: (id, element) => <SliderContent id={id} element={element} />,
  key: (id, element, document) => <KeyContent id={id} element={element} document={document} />,
  screenPaint: (id, element) => <ScreenPaintContent id={id} element={element} />,
  instance: (id, element) => <InstanceContent id={id} element={element} />,
  crosshair: (id, element) => <CrosshairContent id={id} element={element} />,
  direction: (id, element) => <DirectionContent id={id} element={element} />,
};

const NO_BAND: readonly Stretch[] = [];

export function Content() {
  const engine = useEngine();
  const document = useShown();
  const { selection, also } = useBenchPart('selection', 'also');
  const band = useShownBands((s) => s.bands.get(selection ?? '')) ?? NO_BAND;
  const element = selection ? document?.elements[selection] : undefined;
  const shown = engine.document;
  const placed = useMemo(
    () => (selection && shown.elements[selection] ? engine.places.panelPlaceFaults(selection).map(sayPanelPlace) : []),
    [engine, shown, selection],
  );
  if (!selection || !element || !document)
    return (
      <section className="section">
        <h2>Content</h2>
        <p className="hint">
          Nothing is selected. Click an element in the picture, with Shift more than one; choose a row below; or choose Place and click
          where something should go.
        </p>
      </section>
    );
  if (also.length > 0) return <Several />;
  const around = inOrder(document.elements).find(([id]) => isMember(element.mount) && id === element.mount.group);
  const loose = [...unfinishedOf(document, selection).map(sayLoose), ...placed];
  return (
    <section className="section" aria-label="Content">
      <h2>
        {element.name}
        <span className="spring" />
        {isAnchored(element.mount) && (
          <ActionIcon
            variant="transparent"
            className="icon-button"
            title="Stand before it"
            aria-label={`Stand before ${element.name}`}
            onClick={() => {
              const pose = engine.places.viewOf(selection);
              if (pose) engine.goTo(pose);
            }}
          >
            <IconMapPin size={17} />
          </ActionIcon>
        )}
        <ActionIcon
          variant="transparent"
          className="icon-button"
          title="Duplicate"
          aria-label={`Duplicate ${element.name}`}
          onClick={() => duplicateElement(selection)}
        >
          <IconCopy size={17} />
        </ActionIcon>
        <ActionIcon
          variant="transparent"
          className="icon-button"
          title="Delete (Del)"
          aria-label={`Delete ${element.name}`}
          onClick={() => removeElement(selection)}
        >
          <IconTrash size={17} />
        </ActionIcon>
      </h2>
      <p className="hint">
        {kindWord(element)}, {whereOf(document, element)}
        {around && (
          <>
            {'. '}
            <UnstyledButton className="link-button" onClick={() => useBench.setState({ selection: around[0] })}>
              Select {around[1].name}
            </UnstyledButton>
          </>
        )}
      </p>
      <WhichNode id={selection} />
      {loose.length > 0 && (
        <ul className="unfinished">
          {loose.map((what) => (
            <li key={what}>{what}</li>
          ))}
        </ul>
      )}
      <FlickerNote id={selection} band={band} />
      <div className="fields">
        {CONTENT[element.kind](selection, element as never, document)}
        <UsesContent id={selection} element={element} />
        {KINDS[element.kind].hasBox && (
          <>
            <MotionContent id={selection} element={element} group={element.kind === 'group'} />
            <PointerContent id={selection} element={element} />
            <div className="wide">
              <PressContent id={selection} element={element} document={document} />
            </div>
          </>
        )}
        {element.kind === 'group' && <TemplateContent id={selection} element={element} />}
        <div className="wide">
          <DraftText
            key={`name ${selection}`}
            label="Name in lists"
            value={element.name}
            onKeep={(name) => {
              if (name.trim()) editElement('Rename', selection, (e) => ({ ...e, name: name.trim() }));
            }}
          />
        </div>
      </div>
    </section>
  );
}
