export const root: string;
export function stop(sentence: string): never;
export function needNode(): void;
export function run(command: string, args: readonly string[], options?: object): number;
export function install(): void;
export function build(): void;
