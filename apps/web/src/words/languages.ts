/** The name of a language in English, by its tag; the tag where it has none. */
const names = new Intl.DisplayNames('en', { type: 'language' });
export function languageName(tag: string): string {
  try {
    return names.of(tag) ?? tag;
  } catch {
    return tag;
  }
}
