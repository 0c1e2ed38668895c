/** Languages by their tags (BCP 47), and texts by languages. */
import * as z from 'zod';

export const languageTag = z.string().min(2).max(35).refine(isLanguage, 'a language is written as a tag such as "en" or "de-AT"');

export const translationsSchema = z.record(languageTag, z.string().max(4000));

function isLanguage(tag: string): boolean {
  try {
    return Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
}
