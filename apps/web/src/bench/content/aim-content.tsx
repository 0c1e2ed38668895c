/** What a crosshair looks like by what it is aimed at. */
import { type Crosshair, type CrosshairAim, inOrder, makeCrosshairAim, makeTool } from '@foreshore/document';
import { Select, Switch } from '@mantine/core';
import { NodesMeant } from '../../fields/nodes-meant.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice, ColourRows, editing } from '../../fields/rows.tsx';
import { useShown } from '../../state/beside.tsx';

type State = keyof CrosshairAim['looks'];
const STATES: Record<State, string> = { reachable: 'Within reach', far: 'Out of reach', blocked: 'Blocked' };
const FORMS = { same: 'As always', arms: 'Arms', ring: 'Ring', brackets: 'Brackets' };

export function AimContent({ id, element }: { id: string; element: Crosshair }) {
  const document = useShown();
  const { edit, show } = editing('crosshair', id);
  const { aim } = element;
  const set = (what: string, part: Partial<CrosshairAim>) => aim && edit(what, { aim: { ...aim, ...part } });
  // What stands at many nodes, or where an event was, has no one zone.
  const anchors = document ? inOrder(document.anchors).filter(([, { kind }]) => kind !== 'nodes' && kind !== 'event') : [];
  const [nearest] = anchors;
  const withLook = (state: State, part: CrosshairAim['looks'][State]) =>
    aim && { ...aim, looks: { ...aim.looks, [state]: { ...aim.looks[state], ...part } } };
  return (
    <>
      <Switch
        size="xs"
        className="wide"
        label="Looks otherwise by what it is aimed at"
        checked={aim !== undefined}
        onChange={(event) => edit('Change what it is aimed at', { aim: event.currentTarget.checked ? makeCrosshairAim() : undefined })}
      />
      {aim && (
        <>
          <Choice
            label="Meant are"
            value={aim.of.by}
            choices={{ nodes: 'nodes of the level', ...((nearest || aim.of.by === 'anchor') && { anchor: 'the zone of an anchor' }) }}
            onChange={(by) =>
              set('Change what is meant', {
                of: by === 'nodes' || !nearest ? makeCrosshairAim().of : { by: 'anchor', anchor: nearest[0] },
              })
            }
          />
          {aim.of.by === 'nodes' ? (
            <NodesMeant value={aim.of} onChange={(meant) => set('Change what is meant', { of: { by: 'nodes', ...meant } })} />
          ) : (
            <Select
              size="xs"
              label="Anchor"
              searchable
              allowDeselect={false}
              value={aim.of.anchor}
              data={anchors.map(([value, { name }]) => ({ value, label: name }))}
              onChange={(anchor) => anchor && set('Change what is meant', { of: { by: 'anchor', anchor } })}
            />
          )}
          <NumberField
            label="Reach"
            unit="m"
            value={aim.reachM}
            least={0.05}
            greatest={1000}
            step={0.1}
            onChange={(reachM) => set('Change the reach', { reachM })}
          />
          <NumberField
            label="A look stays for"
            unit="s"
            value={aim.leaveS}
            least={0}
            greatest={10}
            step={0.05}
            onChange={(leaveS) => set('Change how long a look stays', { leaveS })}
          />
          <ToolFields
            aim={aim}
            anchors={anchors.map(([value, { name }]) => ({ value, label: name }))}
            set={set}
            show={(tool) => show({ aim: { ...aim, tool } })}
          />
          {(Object.keys(STATES) as State[]).map((state) => {
            const look = aim.looks[state];
            const colour = look.colour ?? element.paint.colour;
            return (
              <div className="fields wide" key={state}>
                <Choice
                  label={`${STATES[state]}: form`}
                  value={look.form ?? 'same'}
                  choices={FORMS}
                  onChange={(form) => edit('Change a look', { aim: withLook(state, { form: form === 'same' ? undefined : form }) })}
                />
                <ColourRows
                  rows={[
                    {
                      label: `${STATES[state]}: colour`,
                      value: colour,
                      onDraft: (now) => show({ aim: withLook(state, { colour: now }) }),
                      onKeep: (now) => edit('Change a look', { aim: withLook(state, { colour: now }) }),
                    },
                  ]}
                />
              </div>
            );
          })}
        </>
      )}
    </>
  );
}

type Tool = NonNullable<CrosshairAim['tool']>;
const BESIDE = [
  ['rightM', 'Right of the eye'],
  ['upM', 'Above the eye'],
  ['aheadM', 'Ahead of the eye'],
] as const;

/** Where what is aimed with is, if not at the eye, and the mark where its own ray stops. */
function ToolFields({
  aim,
  anchors,
  set,
  show,
}: {
  aim: CrosshairAim;
  anchors: { value: string; label: string }[];
  set: (what: string, part: Partial<CrosshairAim>) => void;
  /** While it is being chosen. */
  show: (tool: Tool) => void;
}) {
  const { tool } = aim;
  const change = (part: Partial<Tool>) => tool && set('Change what it is aimed with', { tool: { ...tool, ...part } });
  const [nearest] = anchors;
  return (
    <>
      <Choice
        label="The tool's ray starts"
        value={tool?.from.by ?? 'eye'}
        choices={{
          eye: 'at the eye',
          offset: 'beside the eye',
          ...((nearest || tool?.from.by === 'anchor') && { anchor: 'at an anchor' }),
        }}
        onChange={(by) => {
          const from: Tool['from'] = by === 'anchor' && nearest ? { by, anchor: nearest.value } : makeTool().from;
          set('Change what it is aimed with', { tool: by === 'eye' ? undefined : { ...(tool ?? makeTool()), from } });
        }}
      />
      {tool?.from.by === 'anchor' && (
        <Select
          size="xs"
          label="The tool's anchor"
          searchable
          allowDeselect={false}
          value={tool.from.anchor}
          data={anchors}
          onChange={(anchor) => anchor && change({ from: { by: 'anchor', anchor } })}
        />
      )}
      {tool?.from.by === 'offset' &&
        BESIDE.map(([key, label]) => (
          <NumberField
            key={key}
            label={label}
            unit="m"
            step={0.05}
            least={-50}
            greatest={50}
            value={tool.from.by === 'offset' ? tool.from[key] : 0}
            onChange={(value) => tool.from.by === 'offset' && change({ from: { ...tool.from, [key]: value } })}
          />
        ))}
      {tool && (
        <>
          <NumberField
            label="Mark where it is stopped"
            unit="px"
            value={tool.mark.sizePx}
            least={1}
            greatest={400}
            onChange={(sizePx) => change({ mark: { ...tool.mark, sizePx } })}
          />
          <ColourRows
            rows={[
              {
                label: "The mark's colour",
                value: tool.mark.colour,
                onDraft: (colour) => show({ ...tool, mark: { ...tool.mark, colour } }),
                onKeep: (colour) => change({ mark: { ...tool.mark, colour } }),
              },
            ]}
          />
        </>
      )}
    </>
  );
}
