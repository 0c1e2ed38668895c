/** Loose ends in words. */
import type { Loose } from '@foreshore/checks';

const whose = (of: string | null): string => (of === null ? 'text' : `"${of}"`);

/** A sentence that says what is loose, and what to do where that is one thing. */
export function sayLoose(loose: Loose): string {
  switch (loose.kind) {
    case 'unreadable':
      return `Its ${whose(loose.of)} cannot be read: ${loose.message}.`;
    case 'untranslated':
      return `${loose.of === null ? 'It' : `Its ${whose(loose.of)}`} has no text in ${loose.language}.`;
    case 'placeholder':
      return 'Its text is still a placeholder.';
    case 'unnamed':
      return 'It was never named.';
    case 'unsent':
      return 'Nothing sends it.';
    case 'emptyGroup':
      return 'It is empty and paints nothing.';
    case 'noFeed':
      return `Its text names "${loose.name}", which no feed supplies.`;
    case 'noEvent':
      return `Its anchor "${loose.anchor}" has no event: choose one under Attach.`;
    case 'noAction':
      return loose.on === 'pointer'
        ? 'It acts on the pointer but sends no action.'
        : 'A key acts on it but it sends no action: choose one under Key.';
    case 'deadAction':
      return `Nothing is done on its action "${loose.action}".`;
    case 'keyOfNothing':
      return 'It is in no prompt and stands for no action.';
    case 'alwaysOver':
      return 'It lies over the screen all the time: choose a feed, or set Phase.';
    case 'noSource':
      return 'It has no source: choose a feed.';
    case 'noPicture':
      return 'It has no picture: choose one.';
    case 'wrongSource':
      return `Its source "${loose.feed}" is not a ${loose.wanted}.`;
    case 'noValue':
      return `Its parameter "${loose.of}" has no value.`;
  }
}
