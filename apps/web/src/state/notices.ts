/** Short messages, each with at most one thing to do. `shell/notices.tsx` shows them; what is said before it is there waits. */
export interface Notice {
  text: string;
  kind: 'said' | 'failed';
  action?: { label: string; run: () => void };
}

const early: Notice[] = [];
let show: ((notice: Notice) => void) | null = null;

/** @param shower shows a message; one with the same text takes the place of the last. */
export function showNoticesWith(shower: (notice: Notice) => void): void {
  show = shower;
  for (const notice of early.splice(0)) shower(notice);
}

export function say(text: string, action?: Notice['action'], kind: Notice['kind'] = 'said'): void {
  const notice: Notice = { text, kind, ...(action ? { action } : {}) };
  if (show) show(notice);
  else early.push(notice);
}
export const sayFailed = (text: string): void => say(text, undefined, 'failed');
