/** One offer: what it does, a button that takes it, and the way to the next one. */
import { UnstyledButton } from '@mantine/core';

export function Offered({
  kind,
  lead,
  words,
  note,
  take,
  onTake,
  at,
  of,
  onNext,
}: {
  /** Attributes that name the kind of offer. */
  kind: Record<`data-${string}`, string>;
  lead: string;
  words: string;
  note?: string;
  take: string;
  onTake: () => void;
  at: number;
  of: number;
  onNext: () => void;
}) {
  return (
    <div className="offer" {...kind}>
      <span className="offer-words" title={`${lead}: ${words}`}>
        {lead}: <b>{words}</b>
        {note && <span className="offer-for">{note}</span>}
      </span>
      <span className="offer-buttons">
        <UnstyledButton className="offer-take" onClick={onTake}>
          {take}
        </UnstyledButton>
        {of > 1 && (
          <UnstyledButton
            className="offer-next"
            onClick={onNext}
            title={`${at + 1} of ${of}`}
            aria-label={`Another offer, ${at + 1} of ${of} is shown`}
          >
            Another
          </UnstyledButton>
        )}
      </span>
    </div>
  );
}
