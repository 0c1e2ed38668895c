/** Settings of the Attach step: how the element is reparented, and by what. */
import { matchingNodes, poseTowards, type Vec3 } from '@foreshore/core';
import { type Anchor, inOrder, isAnchored, isMember, isOnHud, isPinned, lostBy, type Mount } from '@foreshore/document';
import { Select, TextInput, UnstyledButton } from '@mantine/core';
import { carryAs, editElement, insideAll, isInLine, reorder, reparent, withAnchor } from '../../edits/edits.ts';
import type { ElementProps } from '../../fields/element-props.ts';
import { NumberField } from '../../fields/number-field.tsx';
import { useEngine } from '../../questions/engine-context.ts';
import { sayFailed } from '../../state/notices.ts';
import { change } from '../../state/project.ts';
import { MOUNT_WORDS, sayLost } from '../../words/kinds.ts';
import { PanelMountSettings } from './panel-settings.tsx';
import { SteadySettings } from './steady-settings.tsx';
import { ZoneSettings } from './zone-settings.tsx';

const AXES = ['x (east)', 'y (up)', 'z (south)'] as const;

/** How the element is carried. */
function MountSettings({ id, element, document }: ElementProps) {
  const { mount } = element;
  const engine = useEngine();
  const inner = new Set(insideAll(document, id));
  const groups = inOrder(document.elements).filter(([other, e]) => e.kind === 'group' && other !== id && !inner.has(other));
  const carry = (kind: Mount['kind']) => {
    if (kind === mount.kind) return;
    if (kind === 'glass') reparent(id, null, engine.places.placeWithin(id, null));
    else if (kind === 'inside' && groups[0]) reparent(id, groups[0][0], engine.places.placeWithin(id, groups[0][0]));
    else if (kind !== 'inside') {
      const carried = engine.places.carriedAs(kind, id);
      if (carried) carryAs(id, carried, MOUNT_WORDS[kind]);
      else sayFailed('It is not in this picture. Go to where it is seen and change its mount there: so it keeps its place and its size.');
    }
  };
  /** What each mount is called, and what would be lost by it. */
  const option = (value: Mount['kind'], disabled = false) => {
    const lost = value === mount.kind ? '' : sayLost(lostBy(element, value));
    return { value, label: lost ? `${MOUNT_WORDS[value]} (${lost})` : MOUNT_WORDS[value], disabled };
  };
  return (
    <>
      <Select
        className="wide"
        size="xs"
        label="Mount"
        allowDeselect={false}
        value={mount.kind}
        data={[
          option('floating'),
          option('standing', element.kind === 'screenPaint'),
          option('trailing', element.kind === 'screenPaint'),
          option('glass'),
          option('inside', groups.length === 0),
        ]}
        onChange={(kind) => kind && carry(kind as Mount['kind'])}
      />
      {isOnHud(mount) && (
        <Select
          className="wide"
          size="xs"
          label="Pinned to"
          allowDeselect={false}
          value={mount.within}
          data={[
            { value: 'safe', label: 'The safe area' },
            { value: 'screen', label: 'The whole screen' },
          ]}
          onChange={(within) =>
            within && editElement('Change the mount', id, (e) => ({ ...e, mount: { ...mount, within: within as 'safe' | 'screen' } }))
          }
        />
      )}
      {isMember(mount) && (
        <Select
          className="wide"
          size="xs"
          label="Group"
          searchable
          allowDeselect={false}
          value={mount.group}
          data={groups.map(([value, g]) => ({ value, label: `${g.name} (${value})` }))}
          onChange={(group) => group && reparent(id, group, engine.places.placeWithin(id, group))}
        />
      )}
      {isPinned(mount) && (
        <div className="wide order-buttons">
          <UnstyledButton className="text-button" onClick={() => reorder(id, -1)}>
            {isInLine(document, id) ? 'Towards the start' : 'Send back'}
          </UnstyledButton>
          <UnstyledButton className="text-button" onClick={() => reorder(id, 1)}>
            {isInLine(document, id) ? 'Towards the end' : 'Bring forward'}
          </UnstyledButton>
        </div>
      )}
    </>
  );
}

export function AttachSettings(props: ElementProps) {
  return (
    <div className="fields">
      <MountSettings {...props} />
      <PanelMountSettings {...props} />
      {isAnchored(props.element.mount) && <AnchorSettings {...props} anchorId={props.element.mount.anchor} />}
    </div>
  );
}

/** How many nodes match, which ones, and what their texts may name. */
function Matches({ anchor }: { anchor: Extract<Anchor, { kind: 'nodes' }> }) {
  const { model } = useEngine();
  const nodes = matchingNodes(model, anchor);
  const named = [...new Set(nodes.flatMap((node) => Object.keys(model.nodeProperties[node] ?? {})))];
  return (
    <p className="hint wide" data-matches={nodes.length}>
      {nodes.length === 0 ? 'No node matches.' : `${nodes.length} ${nodes.length === 1 ? 'node matches' : 'nodes match'}: `}
      {nodes
        .slice(0, 6)
        .map((node) => model.nodeIds[node])
        .join(', ')}
      {nodes.length > 6 ? ' and more. ' : nodes.length ? '. ' : ' '}
      Texts may name {['node', ...named].map((n) => `{${n}}`).join(', ')}.
    </p>
  );
}

function AnchorSettings({ id, document, anchorId }: ElementProps & { anchorId: string }) {
  const engine = useEngine();
  const anchor = document.anchors[anchorId];
  if (!anchor) return null;
  const edit = (what: string, next: Anchor) => change(what, (d) => withAnchor(d, anchorId, next));
  const anchors = inOrder(document.anchors);
  const events = inOrder(document.feeds).flatMap(([value, f]) => (f.kind === 'event' ? [{ value, label: f.name }] : []));
  const axis = (values: Vec3, k: number, v: number): Vec3 => values.map((old, i) => (i === k ? v : old)) as Vec3;
  const asKind = (kind: string) => {
    if (kind === anchor.kind) return;
    const { name, order } = anchor;
    const place = engine.anchorPlace(id) ?? ([0, 0, 0] as Vec3);
    const others = anchors.filter(([other]) => other !== anchorId);
    const kept = {
      name,
      order,
      ...(anchor.zone && anchor.zone.kind !== 'mesh' && { zone: anchor.zone }),
      ...(anchor.steady && { steady: anchor.steady }),
    };
    if (kind === 'surface' || kind === 'node' || kind === 'nodes') edit('Change the anchor', engine.places.anchorAs(kind, anchor, place));
    else if (kind === 'event') edit('Change the anchor', { kind: 'event', ...kept, feed: events[0]?.value ?? null, offset: [0, 0, 0] });
    else if (others[0] && others[1]) edit('Change the anchor', { kind: 'midpoint', ...kept, first: others[0][0], second: others[1][0] });
  };
  return (
    <>
      <Select
        className="wide"
        size="xs"
        label="Anchor"
        allowDeselect={false}
        searchable
        value={anchorId}
        data={anchors.map(([value, a]) => ({ value, label: `${a.name} (${value})` }))}
        onChange={(next) =>
          next && editElement('Change the anchor', id, (e) => (isAnchored(e.mount) ? { ...e, mount: { ...e.mount, anchor: next } } : e))
        }
      />
      <Select
        className="wide"
        size="xs"
        label="Kind"
        allowDeselect={false}
        value={anchor.kind}
        data={[
          { value: 'surface', label: 'Point on a surface' },
          { value: 'node', label: 'Node of the level with an offset' },
          { value: 'nodes', label: 'Every node that matches' },
          { value: 'event', label: 'Where an event was', disabled: events.length === 0 },
          { value: 'midpoint', label: 'Midpoint of two anchors', disabled: anchors.length < 3 },
        ]}
        onChange={(kind) => kind && asKind(kind)}
      />
      {anchor.kind === 'node' && (
        <>
          <Select
            className="wide"
            size="xs"
            label="Node"
            searchable
            allowDeselect={false}
            value={anchor.node}
            data={[...new Set([...engine.model.nodeIds, anchor.node])]}
            limit={80}
            onChange={(node) => node && edit('Change the node', { ...anchor, node })}
          />
          {AXES.map((name, k) => (
            <NumberField
              key={name}
              label={`Offset ${name[0]}, in the node's space`}
              unit="m"
              step={0.05}
              value={anchor.offset[k] as number}
              onChange={(v) => edit('Move an anchor', { ...anchor, offset: axis(anchor.offset, k, v) })}
            />
          ))}
        </>
      )}
      {anchor.kind === 'nodes' && (
        <>
          <TextInput
            className="wide"
            size="xs"
            label="Nodes called (* any characters, ? one)"
            key={anchor.pattern}
            defaultValue={anchor.pattern}
            onBlur={(event) => {
              const pattern = event.currentTarget.value.trim();
              if (pattern && pattern !== anchor.pattern) edit('Change the pattern', { ...anchor, pattern });
            }}
          />
          <TextInput
            className="wide"
            size="xs"
            label="With the property (key, or key=value; empty: any)"
            key={anchor.property ?? ''}
            defaultValue={anchor.property ?? ''}
            onBlur={(event) => {
              const property = event.currentTarget.value.trim() || null;
              if (property !== anchor.property) edit('Change the pattern', { ...anchor, property });
            }}
          />
          <Matches anchor={anchor} />
          {AXES.map((name, k) => (
            <NumberField
              key={name}
              label={`Offset ${name[0]}, in each node's space`}
              unit="m"
              step={0.05}
              value={anchor.offset[k] as number}
              onChange={(v) => edit('Move an anchor', { ...anchor, offset: axis(anchor.offset, k, v) })}
            />
          ))}
        </>
      )}
      {anchor.kind === 'event' && (
        <>
          <Select
            className="wide"
            size="xs"
            label="Event"
            allowDeselect={false}
            value={anchor.feed}
            data={events}
            onChange={(feed) => feed && edit('Change the event', { ...anchor, feed })}
          />
          {AXES.map((name, k) => (
            <NumberField
              key={name}
              label={`Offset ${name[0]}, in the world`}
              unit="m"
              step={0.1}
              value={anchor.offset[k] as number}
              onChange={(v) => edit('Move an anchor', { ...anchor, offset: axis(anchor.offset, k, v) })}
            />
          ))}
        </>
      )}
      {anchor.kind === 'surface' &&
        AXES.map((name, k) => (
          <NumberField
            key={name}
            label={`Place ${anchor.node ? `${name[0]} on ${anchor.node}` : name}`}
            unit="m"
            step={0.1}
            value={anchor.position[k] as number}
            onChange={(v) => edit('Move an anchor', { ...anchor, position: axis(anchor.position, k, v) })}
          />
        ))}
      {anchor.kind === 'midpoint' &&
        (['first', 'second'] as const).map((end) => (
          <Select
            key={end}
            size="xs"
            label={end === 'first' ? 'From' : 'To'}
            searchable
            allowDeselect={false}
            value={anchor[end]}
            data={anchors.filter(([other]) => other !== anchorId).map(([value, a]) => ({ value, label: a.name }))}
            onChange={(next) => next && edit('Change the anchor', { ...anchor, [end]: next })}
          />
        ))}
      {anchor.kind !== 'event' && <SteadySettings anchor={anchor} edit={edit} />}
      <ZoneSettings anchor={anchor} onChange={(next) => edit('Change a zone', next)} />
      <UnstyledButton
        className="text-button wide"
        style={{ justifySelf: 'start' }}
        onClick={() => {
          const place = engine.anchorPlace(id);
          if (place) engine.goTo(poseTowards(engine.pose().position, place));
        }}
      >
        Turn towards it
      </UnstyledButton>
    </>
  );
}
