/** Answers to what was asked for before anybody wanted it. Each is handed out once. */
const asked = new Map<string, Promise<Response>>();

/** Asks now for what will be wanted. */
export function ask(path: string): Promise<Response> {
  const answer = fetch(path);
  // Whoever it is handed to hears of it.
  answer.catch(() => {});
  asked.set(path, answer);
  return answer;
}

/** `fetch`, or the answer to what was asked before. */
export function fetched(path: string, init?: RequestInit): Promise<Response> {
  const early = init ? undefined : asked.get(path);
  asked.delete(path);
  return early ?? fetch(path, init);
}
