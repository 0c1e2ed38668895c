/** What a direction, or a mark that confirms, contains: the events it shows, where it points, its form, how long and how many, and its paint. */
import { headingOf, isEvent, type Vec3 } from '@foreshore/core';
import { type Direction, inOrder, isMark, MOST_DIRECTIONS } from '@foreshore/document';
import { Select, Switch, UnstyledButton } from '@mantine/core';
import { OpacityField, SourceField } from '../../fields/element-fields.tsx';
import { Choice, ColourRows, editing, NumberRows } from '../../fields/rows.tsx';
import { useEngine } from '../../questions/engine-context.ts';
import { useBench } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { hold } from '../../state/live.ts';

const OUTLINE: NonNullable<Direction['paint']['outline']> = { colour: '#15233B', widthPx: 2 };
/** Fringes lie at the sides of the whole screen. */
const FORMS: Record<Direction['form'], Partial<Direction> & Pick<Direction, 'form'>> = {
  arcs: { form: 'arcs', sizePx: 420, thickPx: 14, spanDeg: 36, most: 6 },
  fringes: { form: 'fringes', thickPx: 160, spanDeg: 80, most: 6 },
  cross: { form: 'cross', sizePx: 72, thickPx: 4, most: 1, follows: null },
  ring: { form: 'ring', sizePx: 72, thickPx: 4, most: 1, follows: null },
};
const FORM_WORDS: Record<Direction['form'], string> = {
  arcs: 'Arcs about the middle',
  fringes: 'Fringes at the sides',
  cross: 'A cross in the middle',
  ring: 'A ring in the middle',
};
const SIZE_WORDS: Record<Direction['form'], { size: string | null; thick: string }> = {
  arcs: { size: 'Diameter', thick: 'Thickness' },
  fringes: { size: null, thick: 'Depth inwards' },
  cross: { size: 'Across', thick: 'Stroke' },
  ring: { size: 'Across', thick: 'Stroke' },
};

export function DirectionContent({ id, element }: { id: string; element: Direction }) {
  const document = useShown();
  const { edit, paint, showPaint } = editing('direction', id);
  const { form, paint: painted } = element;
  const { outline } = painted;
  const marks = isMark(element);
  const words = SIZE_WORDS[form];
  // What stands at many nodes, or where an event was, is no place to point at.
  const anchors = inOrder(document?.anchors ?? {}).filter(([, { kind }]) => kind !== 'nodes' && kind !== 'event');
  const number = (label: string, unit: string, key: keyof Direction & string, least: number, greatest: number, step = 1) => ({
    label,
    unit,
    least,
    greatest,
    step,
    value: element[key] as number,
    onChange: (value: number) => edit(`Change ${label.toLowerCase()}`, { [key]: key === 'most' ? Math.round(value) : value }),
  });
  return (
    <>
      <SourceField source={element.source} kind="event" onChange={(source) => edit('Choose a feed', { source })} />
      {!marks && (
        <Select
          size="xs"
          label="Points"
          searchable
          allowDeselect={false}
          value={element.follows ?? ''}
          data={[
            { value: '', label: 'at where it happened' },
            ...anchors.map(([value, { name }]) => ({ value, label: `at ${name}, as it moves` })),
          ]}
          onChange={(anchor) => edit('Change where it points', { follows: anchor === '' ? null : anchor })}
        />
      )}
      <Choice
        label="Form"
        value={form}
        choices={FORM_WORDS}
        onChange={(to) =>
          edit('Change the form', {
            // From one mark to another it stays as large.
            ...(marks && isMark({ form: to }) ? { form: to } : FORMS[to]),
            ...(element.mount.kind === 'glass' && {
              mount: { ...element.mount, stretch: to === 'fringes' ? [true, true] : [false, false] },
            }),
          })
        }
      />
      <NumberRows
        rows={[
          ...(words.size === null ? [] : [number(words.size, 'px', 'sizePx', 10, 4000)]),
          number(words.thick, 'px', 'thickPx', 1, 2000),
          ...(marks ? [] : [number('Each spans', 'deg', 'spanDeg', 2, 180)]),
          number('Each stays for', 's', 'holdS', 0, 60, 0.1),
          number('Then fades in', 's', 'fadeS', 0, 60, 0.1),
          ...(marks
            ? []
            : [
                number('At once at most', '', 'most', 1, MOST_DIRECTIONS),
                number('Add up within', 'deg', 'joinDeg', 0, 180),
                {
                  label: 'Grows each time by',
                  unit: '%',
                  least: 0,
                  greatest: 200,
                  value: Math.round(element.growShare * 1000) / 10,
                  onChange: (percent: number) => edit('Change how it grows', { growShare: percent / 100 }),
                },
                number('Marked as above or below from', 'deg', 'aboveDeg', 1, 89),
              ]),
        ]}
      />
      <ColourRows
        rows={[
          {
            label: 'Colour',
            value: painted.colour,
            onDraft: (now) => showPaint({ colour: now }),
            onKeep: (now) => paint('Change a colour', { colour: now }),
          },
          ...(outline
            ? [
                {
                  label: 'Outline colour',
                  value: outline.colour,
                  onDraft: (now: string) => showPaint({ outline: { ...outline, colour: now } }),
                  onKeep: (now: string) => paint('Change a colour', { outline: { ...outline, colour: now } }),
                },
              ]
            : []),
        ]}
      />
      <OpacityField id={id} element={element} />
      <Switch
        size="xs"
        className="wide"
        label="Outline of the opposite tone"
        checked={outline !== null}
        onChange={(event) => paint('Change the outline', { outline: event.currentTarget.checked ? OUTLINE : null })}
      />
      {element.source !== null && <Happenings feed={element.source} ways={marks ? ANYWHERE : FROM} />}
      <p className="hint wide">
        {marks
          ? 'There at once when it happens, whichever way that was, and gone after these seconds; once more, and it begins anew.'
          : 'Ahead is at the top, behind at the bottom. What happens at no place, or where one stands, is shown all around.'}
      </p>
    </>
  );
}

/** So far away something is made to happen, metres. */
const AWAY_M = 8;
/** From the viewer, in its own axes: to the right, up, ahead. */
const FROM: Record<string, readonly [number, number, number] | null> = {
  Ahead: [0, 0, 1],
  Right: [1, 0, 0],
  Behind: [0, 0, -1],
  Left: [-1, 0, 0],
  'Above, ahead': [0, 0.8, 0.6],
  'At no place': null,
};
const ANYWHERE = { Now: null } as const;

/** Lets the event happen once more about the viewer, in Try: while time stands nothing has happened lately. */
function Happenings({ feed, ways }: { feed: string; ways: typeof FROM }) {
  const engine = useEngine();
  const happen = (way: readonly [number, number, number] | null) => {
    const { position, rotation } = engine.pose();
    const { yawDeg } = headingOf(rotation);
    const [sin, cos] = [Math.sin((yawDeg * Math.PI) / 180), Math.cos((yawDeg * Math.PI) / 180)];
    const now = engine.valuesNow()[feed];
    const number = (isEvent(now) ? now.number : 0) + 1;
    const [right, up, ahead] = way ?? [0, 0, 0];
    const place: Vec3 | null = way && [
      position[0] + AWAY_M * (right * cos - ahead * sin),
      position[1] + AWAY_M * up,
      position[2] - AWAY_M * (right * sin + ahead * cos),
    ];
    const tell = () => hold(feed, { number, place });
    if (useBench.getState().mode === 'try' || useBench.getState().playing) {
      tell();
      return;
    }
    useBench.setState({ mode: 'try', outside: false, whole: false, hover: null });
    // One picture has to know that it had not happened yet.
    requestAnimationFrame(() => requestAnimationFrame(tell));
  };
  return (
    <div className="wide">
      <span className="field-label">Let it happen, in Try</span>
      <div className="buttons">
        {Object.entries(ways).map(([name, way]) => (
          <UnstyledButton key={name} className="text-button" onClick={() => happen(way)}>
            {name}
          </UnstyledButton>
        ))}
      </div>
    </div>
  );
}
