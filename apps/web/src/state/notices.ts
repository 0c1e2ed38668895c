/** Short messages, each with at most one thing to do; `shell/notices.tsx` shows them. */
import { create } from 'zustand';

export interface Notice {
  id: number;
  text: string;
  kind: 'said' | 'failed';
  action?: { label: string; run: () => void };
}

interface NoticeStore {
  list: Notice[];
  dismiss: (id: number) => void;
}

const LASTING_MS = { said: 8000, failed: 20000 };
let next = 1;

export const useNotices = create<NoticeStore>((set) => ({
  list: [],
  dismiss: (id) => set(({ list }) => ({ list: list.filter((n) => n.id !== id) })),
}));

export function say(text: string, action?: Notice['action'], kind: Notice['kind'] = 'said'): void {
  const id = next++;
  useNotices.setState(({ list }) => ({
    list: [...list.filter((n) => n.text !== text).slice(-3), { id, text, kind, ...(action ? { action } : {}) }],
  }));
  setTimeout(() => useNotices.getState().dismiss(id), LASTING_MS[kind]);
}
export const sayFailed = (text: string): void => say(text, undefined, 'failed');
