/** Where the values of a feed come from, and the fields of each source. */
import { isEvent } from '@foreshore/core';
import { type Feed, type FeedSource, type FeedValue, inOrder } from '@foreshore/document';
import { Select, Switch, Textarea, TextInput, UnstyledButton } from '@mantine/core';
import { NodesMeant } from '../fields/nodes-meant.tsx';
import { NumberField } from '../fields/number-field.tsx';
import { Choice } from '../fields/rows.tsx';
import { sayFailed } from '../state/notices.ts';
import { change, useProject } from '../state/project.ts';

/** Where values come from, and for which kinds of feed. */
const SOURCES: { value: FeedSource['kind']; label: string; of: readonly Feed['kind'][] }[] = [
  { value: 'fixed', label: 'Its initial value', of: ['number', 'text', 'flag', 'list', 'event'] },
  { value: 'events', label: 'Places in turn', of: ['event'] },
  { value: 'ramp', label: 'A ramp, again and again', of: ['number'] },
  { value: 'sine', label: 'A wave', of: ['number'] },
  { value: 'wander', label: 'A random walk with a seed', of: ['number'] },
  { value: 'steps', label: 'Values in turn', of: ['number', 'text', 'flag', 'list'] },
  { value: 'key', label: 'A key, while trying', of: ['flag'] },
  { value: 'time', label: 'Seconds since the start', of: ['number'] },
  { value: 'height', label: 'Height of the eye', of: ['number'] },
  { value: 'speed', label: 'Speed of the viewer', of: ['number'] },
  { value: 'fallen', label: 'Height come down', of: ['number'] },
  { value: 'aimed', label: 'What is aimed at', of: ['number', 'text', 'flag'] },
  { value: 'distance', label: 'Distance to an anchor', of: ['number'] },
  { value: 'place', label: 'Where an anchor is', of: ['number'] },
  { value: 'between', label: 'Distance or angle between anchors', of: ['number'] },
];
const OF_ANCHORS = ['distance', 'place', 'between'];
/** Others have one value, whoever asks. */
const OF_OBJECTS: readonly FeedSource['kind'][] = ['fixed', 'ramp', 'sine', 'wander', 'steps'];

function makeSource(kind: FeedSource['kind'], feed: Feed, anchor: string | null): FeedSource {
  const [low, high] = feed.range ?? [0, 100];
  switch (kind) {
    case 'ramp':
      return { kind, from: low, to: high, periodS: 20 };
    case 'sine':
      return { kind, middle: (low + high) / 2, reach: (high - low) / 2, periodS: 20, startDeg: 0 };
    case 'wander':
      return { kind, from: low, to: high, perS: (high - low) / 4, seed: 1 };
    case 'events':
      return { kind, places: [(isEvent(feed.initial) ? feed.initial.place : null) ?? [0, 0, 0]], everyS: 10 };
    case 'steps':
      return { kind, values: [feed.initial], everyS: 5 };
    case 'distance':
      return anchor ? { kind, anchor } : { kind: 'fixed' };
    case 'place':
      return anchor ? { kind, anchor, axis: 'y' } : { kind: 'fixed' };
    case 'between':
      return anchor ? { kind, first: anchor, second: anchor, along: 'space' } : { kind: 'fixed' };
    case 'aimed':
      return { kind, mostM: 50, pattern: '*', property: null, gives: 'distance' };
    case 'key':
      return { kind, code: 'KeyG', how: 'turns' };
    default:
      return { kind };
  }
}

/** What a feed comes from, and what it may be worth. */
/** What lies between two anchors is measured in. */
const UNITS = { space: 'm', ground: 'm', height: 'm', angle: 'deg', screen: 'px' } as const satisfies Record<Between['along'], string>;
/** A unit of another's choosing stays. */
const unitOf = (source: FeedSource, unit: string): string =>
  source.kind === 'between' && (Object.values(UNITS) as string[]).includes(unit) ? UNITS[source.along] : unit;

export function Fields({ id, feed }: { id: string; feed: Feed }) {
  const document = useProject((s) => s.document);
  const edit = (what: string, next: Feed) => change(what, (d) => ({ ...d, feeds: { ...d.feeds, [id]: next } }));
  const source = feed.source ?? { kind: 'fixed' as const };
  const { each, ...ofAll } = feed;
  const set = (next: FeedSource) =>
    edit('Change a source', {
      ...ofAll,
      ...(each && OF_OBJECTS.includes(next.kind) && { each }),
      source: next,
      unit: unitOf(next, feed.unit),
    });
  const anchors = inOrder(document?.anchors ?? {});
  return (
    <div className="fields feed-fields">
      <Select
        size="xs"
        label="Comes from"
        allowDeselect={false}
        value={source.kind}
        data={SOURCES.filter((s) => s.of.includes(feed.kind)).map(({ value: v, label }) => ({
          value: v,
          label,
          disabled: OF_ANCHORS.includes(v) && anchors.length === 0,
        }))}
        onChange={(kind) => kind && kind !== source.kind && set(makeSource(kind as FeedSource['kind'], feed, anchors[0]?.[0] ?? null))}
      />
      <SourceFields source={source} feed={feed} anchors={anchors.map(([v, a]) => ({ value: v, label: a.name }))} onChange={set} />
      {feed.kind === 'number' && (
        <>
          <NumberField
            label="Initially"
            unit={feed.unit}
            value={feed.initial as number}
            onChange={(initial) => edit('Change a feed', { ...feed, initial })}
          />
          <NumberField
            label="Least"
            unit={feed.unit}
            value={feed.range?.[0] ?? 0}
            onChange={(low) => edit('Change a range', { ...feed, range: [low, Math.max(low, feed.range?.[1] ?? 100)] })}
          />
          <NumberField
            label="Greatest"
            unit={feed.unit}
            value={feed.range?.[1] ?? 100}
            onChange={(high) => edit('Change a range', { ...feed, range: [Math.min(high, feed.range?.[0] ?? 0), high] })}
          />
          <TextInput
            key={feed.unit}
            size="xs"
            label="Unit"
            defaultValue={feed.unit}
            onBlur={(event) =>
              event.currentTarget.value !== feed.unit && edit('Change a unit', { ...feed, unit: event.currentTarget.value.slice(0, 40) })
            }
          />
        </>
      )}
      {feed.kind !== 'event' && OF_OBJECTS.includes(source.kind) && (
        <Switch
          size="xs"
          className="feed-each"
          label="A value for each object"
          title="An element that stands at a node of the level, or is about one, reads the value of that node. A game sends it by the node’s name; until then it is what the node carries under the feed’s name, or else the feed’s own."
          checked={each === true}
          onChange={(event) =>
            edit(event.currentTarget.checked ? 'A value for each object' : 'One value for all', {
              ...ofAll,
              ...(event.currentTarget.checked && { each: true as const }),
            })
          }
        />
      )}
      {feed.kind === 'list' && (
        <Textarea
          size="xs"
          label="Initially, a line each"
          autosize
          minRows={2}
          maxRows={6}
          defaultValue={(feed.initial as string[]).join('\n')}
          onBlur={(event) => edit('Change a feed', { ...feed, initial: event.currentTarget.value.split('\n').filter(Boolean) })}
        />
      )}
      {feed.kind === 'text' && (
        <TextInput
          size="xs"
          label="Initially"
          defaultValue={String(feed.initial)}
          onBlur={(event) => edit('Change a feed', { ...feed, initial: event.currentTarget.value })}
        />
      )}
      {feed.kind === 'flag' && (
        <Switch
          size="xs"
          label="Initially yes"
          checked={feed.initial === true}
          onChange={(event) => edit('Change a feed', { ...feed, initial: event.currentTarget.checked })}
        />
      )}
    </div>
  );
}

function SourceFields({
  source,
  feed,
  anchors,
  onChange,
}: {
  source: FeedSource;
  feed: Feed;
  anchors: { value: string; label: string }[];
  onChange: (source: FeedSource) => void;
}) {
  const number = (label: string, value: number, unit: string, take: (v: number) => FeedSource, least?: number) => (
    <NumberField
      key={label}
      label={label}
      unit={unit}
      value={value}
      {...(least === undefined ? {} : { least })}
      onChange={(v) => onChange(take(v))}
    />
  );
  switch (source.kind) {
    case 'ramp':
      return [
        number('From', source.from, feed.unit, (from) => ({ ...source, from })),
        number('To', source.to, feed.unit, (to) => ({ ...source, to })),
        number('Takes', source.periodS, 's', (periodS) => ({ ...source, periodS }), 0.1),
      ];
    case 'sine':
      return [
        number('Middle', source.middle, feed.unit, (middle) => ({ ...source, middle })),
        number('Reach', source.reach, feed.unit, (reach) => ({ ...source, reach })),
        number('Period', source.periodS, 's', (periodS) => ({ ...source, periodS }), 0.1),
        number('Start angle', source.startDeg, 'deg', (startDeg) => ({ ...source, startDeg })),
      ];
    case 'wander':
      return [
        number('Between', source.from, feed.unit, (from) => ({ ...source, from })),
        number('and', source.to, feed.unit, (to) => ({ ...source, to })),
        number('At most', source.perS, `${feed.unit}/s`, (perS) => ({ ...source, perS }), 0.001),
        number('Seed', source.seed, '', (v) => ({ ...source, seed: Math.abs(Math.round(v)) % 2147483647 })),
      ];
    case 'steps':
      return (
        <>
          <TextInput
            size="xs"
            className="wide"
            label={feed.kind === 'list' ? 'Lists: commas between, lines parted by /' : 'Values, with commas between'}
            key={source.values.join(',')}
            defaultValue={source.values.map(written).join(', ')}
            onBlur={(event) => {
              const parts = event.currentTarget.value
                .split(',')
                .map((part) => part.trim())
                .filter(Boolean);
              const values = parts.map(
                (part): FeedValue =>
                  feed.kind === 'list'
                    ? part.split('/').map((line) => line.trim())
                    : feed.kind === 'number'
                      ? Number(part)
                      : feed.kind === 'flag'
                        ? part === 'yes' || part === 'true'
                        : part,
              );
              if (values.length && values.every((v) => typeof v !== 'number' || Number.isFinite(v))) onChange({ ...source, values });
              else event.currentTarget.value = source.values.map(written).join(', ');
            }}
          />
          {number('Each for', source.everyS, 's', (everyS) => ({ ...source, everyS }), 0.1)}
        </>
      );
    case 'events':
      return (
        <>
          <Textarea
            className="wide"
            size="xs"
            label="Places x, y, z in metres, a line each"
            autosize
            minRows={2}
            maxRows={6}
            key={JSON.stringify(source.places)}
            defaultValue={source.places.map((p) => p.join(', ')).join('\n')}
            onBlur={(event) => {
              const lines = event.currentTarget.value.split('\n').filter((line) => line.trim());
              const places = lines.map((line) =>
                line
                  .split(/[\s,]+/)
                  .filter(Boolean)
                  .map(Number),
              );
              const sound = places.length > 0 && places.every((p) => p.length === 3 && p.every(Number.isFinite));
              if (sound) onChange({ ...source, places: places as [number, number, number][] });
              else {
                sayFailed('A place is three numbers of metres, such as "12, 0.5, -3"; the places were left as they were.');
                event.currentTarget.value = source.places.map((p) => p.join(', ')).join('\n');
              }
            }}
          />
          {number('Every', source.everyS, 's', (everyS) => ({ ...source, everyS }), 0.1)}
        </>
      );
    case 'key':
      return (
        <>
          <TextInput
            size="xs"
            label="Key: press it here"
            value={source.code}
            readOnly
            onKeyDown={(event) => {
              if (event.code === 'Tab' || event.code === 'Escape') return;
              event.preventDefault();
              onChange({ ...source, code: event.code });
            }}
          />
          <Choice
            label="It is yes"
            value={source.how}
            choices={{ held: 'while the key is held', turns: 'after every other press' }}
            onChange={(how) => onChange({ ...source, how })}
          />
        </>
      );
    case 'aimed':
      return (
        <>
          {feed.kind === 'number' && (
            <Choice
              label="It is"
              value={source.gives}
              choices={{ distance: 'how far it is, m', x: 'where along x, m', y: 'its height, m', z: 'where along z, m' }}
              onChange={(gives) => onChange({ ...source, gives })}
            />
          )}
          {number('Within', source.mostM, 'm', (mostM) => ({ ...source, mostM: Math.min(1000, mostM) }), 0.1)}
          <NodesMeant value={source} onChange={({ pattern, property }) => onChange({ ...source, pattern, property })} />
          <p className="hint wide">Its value is known on the bench, where the level is.</p>
        </>
      );
    case 'between':
      return <BetweenFields source={source} anchors={anchors} onChange={onChange} />;
    case 'place':
    case 'distance':
      return (
        <>
          {source.kind === 'place' && (
            <Choice
              label="Along"
              value={source.axis}
              choices={{ x: 'x', y: 'y, upwards', z: 'z' }}
              onChange={(axis) => onChange({ ...source, axis })}
            />
          )}
          <Select
            size="xs"
            label="Anchor"
            searchable
            allowDeselect={false}
            value={source.anchor}
            data={anchors}
            onChange={(anchor) => anchor && onChange({ ...source, anchor })}
          />
        </>
      );
    default:
      return null;
  }
}

/** A value as it is written in a field: the lines of a list are parted by strokes. */
export const written = (value: FeedValue): string =>
  Array.isArray(value) ? value.join(' / ') : isEvent(value) ? (value.place?.join(' ') ?? '') : String(value);

type Between = Extract<FeedSource, { kind: 'between' }>;

/** Two anchors and what is measured between them, by way of others. */
function BetweenFields({
  source,
  anchors,
  onChange,
}: {
  source: Between;
  anchors: { value: string; label: string }[];
  onChange: (source: FeedSource) => void;
}) {
  const { via = [] } = source;
  const other = anchors.find(({ value }) => value !== source.first && value !== source.second)?.value;
  const withVia = (next: readonly string[]) => {
    const { via: _, ...rest } = source;
    onChange(next.length > 0 ? { ...rest, via: [...next] } : rest);
  };
  const end = (label: string, value: string, to: (anchor: string) => void) => (
    <Select
      size="xs"
      label={label}
      searchable
      allowDeselect={false}
      value={value}
      data={anchors}
      onChange={(anchor) => anchor && to(anchor)}
    />
  );
  return (
    <>
      <Choice
        label="Measured"
        value={source.along}
        choices={{
          space: 'Straight',
          ground: 'Over the ground',
          height: 'In height',
          screen: 'On the screen, px',
          ...((other || source.along === 'angle') && { angle: 'As the angle at the anchor between' }),
        }}
        onChange={(along) => {
          const at = via[0] ?? other;
          onChange(along === 'angle' && at ? { ...source, along, via: [at] } : { ...source, along });
        }}
      />
      {end('From the anchor', source.first, (first) => onChange({ ...source, first }))}
      {via.map((anchor, k) => (
        <div key={`${k} of ${via.length}`}>
          {end(source.along === 'angle' ? 'At the anchor' : 'By way of', anchor, (to) => withVia(via.map((v, i) => (i === k ? to : v))))}
          {source.along !== 'angle' && (
            <UnstyledButton className="text-button" onClick={() => withVia(via.filter((_, i) => i !== k))}>
              Leave it out
            </UnstyledButton>
          )}
        </div>
      ))}
      {end('To the anchor', source.second, (second) => onChange({ ...source, second }))}
      {source.along !== 'angle' && via.length < 30 && other && (
        <UnstyledButton className="text-button" onClick={() => withVia([...via, other])}>
          Go by way of another
        </UnstyledButton>
      )}
    </>
  );
}
