/** Who sends an action. */
import type { Document } from './schema.ts';

/** Ids of the elements that send an action: when they are pressed, by pointer or by key, or as a stage of their motions. */
export function elementsThatSend({ elements }: Document, action: string): string[] {
  return Object.entries(elements).flatMap(([id, { pointer, press, motion }]) => {
    const stages = [motion?.enter, motion?.leave].some((m) => m && 'sends' in m && m.sends === action);
    return pointer?.action === action || press?.action === action || stages ? [id] : [];
  });
}
