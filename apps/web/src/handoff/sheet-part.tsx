/** The spec sheet: every element in the other world's numbers, which can be copied singly. */
import { type Sheet, type SheetRow, unitWord } from '@foreshore/handoff/sheet';
import { TextInput, UnstyledButton } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { say } from '../state/notices.ts';

const written = (n: number): string => String(Number(n.toFixed(4)));

/** A number that a click copies. */
function Copied({ value }: { value: string }) {
  return (
    <UnstyledButton
      className="copied num"
      title="Copy"
      onClick={() => {
        void navigator.clipboard?.writeText(value).then(
          () => say(`Copied: ${value}`),
          () => say('The browser does not let the page copy.'),
        );
      }}
    >
      {value}
    </UnstyledButton>
  );
}

function Row({ row, project, unit }: { row: SheetRow; project: string; unit: string }) {
  const { widthPx, heightPx, width, height, widthArcmin, heightArcmin } = row;
  const sizes = (
    [
      [widthPx, heightPx, 'px'],
      [width, height, unit],
      [widthArcmin, heightArcmin, 'arcmin'],
    ] as const
  ).flatMap(([w, h, in_]) => (w === null || h === null ? [] : [[w, h, in_] as const]));
  return (
    <tr>
      <td>
        <Link to={`/p/${project}/bench?sel=${encodeURIComponent(row.id)}`}>{row.name}</Link>
      </td>
      <td className="handoff-word">{row.kind}</td>
      <td className="handoff-word">{row.mount}</td>
      <td>{row.on}</td>
      <td>{row.place && <Copied value={row.place.map(written).join(', ')} />}</td>
      <td className="handoff-word">
        {sizes.map(([w, h, in_]) => (
          <div key={in_}>
            <Copied value={`${written(w)} x ${written(h)}`} /> {in_}
          </div>
        ))}
      </td>
    </tr>
  );
}

export function SheetPart({ sheet, project }: { sheet: Sheet; project: string }) {
  const [wanted, setWanted] = useState('');
  const rows = useMemo(() => {
    const word = wanted.trim().toLowerCase();
    return sheet.rows.filter(({ name, kind, mount, on }) => [name, kind, mount, on].some((part) => part.toLowerCase().includes(word)));
  }, [sheet, wanted]);
  const unit = unitWord(sheet.convention);
  return (
    <section className="handoff-part" aria-label="Spec sheet">
      <h2>Spec sheet</h2>
      <p className="hint">
        What somebody needs to build an element by hand; paint, texts and timing are in the exported page. Pixels are those of{' '}
        {sheet.design.widthPx} x {sheet.design.heightPx}. A click copies.
      </p>
      <TextInput
        size="xs"
        aria-label="Search the elements"
        placeholder="Search"
        value={wanted}
        onChange={(e) => setWanted(e.currentTarget.value)}
      />
      <table className="handoff-table">
        <thead>
          <tr>
            <th>Element</th>
            <th>Kind</th>
            <th>Mount</th>
            <th>Hangs on</th>
            <th>Anchor, {unit}</th>
            <th>Size</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Row key={row.id} row={row} project={project} unit={unit} />
          ))}
        </tbody>
      </table>
      {rows.length === 0 && <p className="hint">{sheet.rows.length ? 'No element is called so.' : 'There is no element yet.'}</p>}
    </section>
  );
}
