/** All files that leave: the bundle, its contract, its spec sheet, fonts and pictures, by their names. The same input gives the same bytes. */
import { createHash } from 'node:crypto';
import { directionOf, type Level } from '@foreshore/core';
import { type Document, groupOf, inOrder, pictureName, textsOf } from '@foreshore/document';
import { type LevelModel, prepareLevel } from '@foreshore/level';
import { PARTS } from '@foreshore/runtime/bundle';
import { otherWeights } from '@foreshore/text';
import { type FontName, lettersUsed, projectShaper, shippedFontFile, shippedFontNames, subsetFont } from '@foreshore/text/node';
import { contractOf, contractSchema, contractTypes } from './contract.ts';
import { type Convention, OWN } from './convention.ts';
import { ExportError } from './faults.ts';
import { packBundle } from './pack.ts';
import { contractHtml, sheetCsv, sheetHtml, sheetOf } from './sheet.ts';
import { withElements } from './some.ts';

export interface Project {
  document: Document;
  level: LevelModel | null;
  picture(hash: string): Uint8Array | undefined;
  font(hash: string): Uint8Array | undefined;
}
export interface ExportChoice {
  convention?: Convention;
  /** Elements that leave, with what is inside of them; without it, all. */
  elements?: readonly string[];
  /** Viewers that leave; without it, all. */
  viewers?: readonly string[];
  /** Also the level, kept as the runtime casts rays in it. */
  withLevel?: boolean;
  /** Fonts with only the letters that any text of the project has, and numbers and dates of its languages. */
  usedLetters?: boolean;
  /** Also the modules that play the bundle in a web game, of `runtimeModules`: the basic one, the parts that it needs, and all add-ons. */
  runtime?: Readonly<Record<string, Uint8Array>>;
}

/** The modules of the runtime by their file names, built first where they are older than their sources. */
export async function runtimeModules(): Promise<Record<string, Uint8Array>> {
  // The same from here and from a bundled program: it builds with what it finds beside itself, and is not bundled.
  const build = new URL('../../../packages/runtime/build.mjs', import.meta.url).href;
  try {
    return await ((await import(/* @vite-ignore */ build)) as typeof import('../../runtime/build.mjs')).runtimeModules();
  } catch (error) {
    throw new ExportError([`The runtime could not be built: ${(error as Error).message}`]);
  }
}

const json = (value: unknown): Uint8Array => new TextEncoder().encode(`${JSON.stringify(value, null, 1)}\n`);
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Letters that the font that ships lacks, by script. */
const SCRIPTS = { arabic: /\p{Script=Arabic}/u, hebrew: /\p{Script=Hebrew}/u } as const;

/** Fonts that ship, as far as texts are in them: regular, bold, other weights; scripts of the languages there are. */
function fontsNeeded(document: Document): FontName[] {
  const { elements, language, languages = [] } = document;
  const texts = Object.values(elements).flatMap(textsOf).join('\n');
  const toLeft = [language, ...languages].filter((tag) => directionOf(tag) === 'rtl').map((tag) => new Intl.Locale(tag).maximize().script);
  const scripts = (['arabic', 'hebrew'] as const).filter(
    (script) => SCRIPTS[script].test(texts) || toLeft.includes(script === 'arabic' ? 'Arab' : 'Hebr'),
  );
  return shippedFontNames(otherWeights(document), scripts);
}

/** Every text in a value, whatever it is a text of. */
function* textsIn(value: unknown): Generator<string> {
  if (typeof value === 'string') yield value;
  else if (typeof value === 'object' && value !== null) for (const inner of Object.values(value)) yield* textsIn(inner);
}

/** How a font leaves. */
function cutter({ document, level }: Project, { usedLetters }: ExportChoice): (font: Uint8Array, name: string) => Uint8Array {
  if (!usedLetters) return (font) => font;
  const { language, languages = [] } = document;
  // Names and properties of nodes may stand in texts.
  const letters = lettersUsed(textsIn([document, level?.nodeIds ?? [], level?.nodeProperties ?? []]), [language, ...languages]);
  return (font, name) => {
    try {
      return subsetFont(font, letters);
    } catch (error) {
      throw new ExportError([`The font "${name}" cannot be cut to its used letters: ${(error as Error).message}`]);
    }
  };
}

/** What is named and is not there, in words. */
function faultsOf({ document, picture, font }: Project, { elements, viewers }: ExportChoice): string[] {
  return [
    ...(elements ?? []).filter((id) => !document.elements[id]).map((id) => `There is no element "${id}".`),
    ...(elements ?? []).flatMap((id) => {
      const group = document.elements[id] && groupOf(document.elements[id]);
      return group ? [`The element "${id}" is inside of "${group}"; name that.`] : [];
    }),
    ...(viewers ?? []).filter((id) => !document.viewers[id]).map((id) => `There is no viewer "${id}".`),
    ...Object.values(document.pictures ?? {})
      .filter(({ hash }) => !picture(hash))
      .map(({ name }) => `The picture "${name}" is not there.`),
    ...Object.values(document.fonts ?? {})
      .filter(({ hash }) => !font(hash))
      .map(({ name }) => `The font "${name}" is not there.`),
  ];
}

/**
 * @throws ExportError where something that is to leave is not there.
 */
export function exportFiles(project: Project, choice: ExportChoice = {}): Record<string, Uint8Array> {
  const faults = faultsOf(project, choice);
  if (faults.length) throw new ExportError(faults);
  const { level } = project;
  const text = projectShaper(project.document.fonts, project.font);
  const convention = choice.convention ?? project.document.convention ?? OWN;
  let { document } = project;
  if (choice.elements) document = withElements(document, choice.elements);
  if (choice.viewers)
    document = { ...document, viewers: Object.fromEntries(choice.viewers.map((id) => [id, document.viewers[id] as never])) };
  if (Object.keys(document.viewers).length === 0) throw new ExportError(['No viewer is left; a bundle has one at least.']);
  const files: Record<string, Uint8Array> = {};
  const fonts = [];
  const cut = cutter({ ...project, document }, choice);
  for (const { weight, name } of fontsNeeded(document)) {
    files[`fonts/${name}`] = cut(shippedFontFile(name), name);
    fonts.push({ family: null, weight, file: `fonts/${name}` });
  }
  for (const [id, { name, weight, hash }] of inOrder(document.fonts ?? {})) {
    files[`fonts/${id}.sfnt`] = cut(project.font(hash) as Uint8Array, name);
    fonts.push({ family: name, weight, file: `fonts/${id}.sfnt` });
  }
  const pictures: Record<string, string> = {};
  for (const file of Object.values(document.pictures ?? {})) {
    pictures[file.hash] = pictureName(file);
    files[pictureName(file)] = project.picture(file.hash) as Uint8Array;
  }
  // As it stands at the beginning.
  level?.poses(new Float64Array(level.clipDurationsS.length));
  const packed = packBundle(document, level as Level | null, { fonts, pictures });
  const bundle = { ...packed, hash: sha256(utf8(JSON.stringify(packed))) };
  files['bundle.json'] = utf8(`${JSON.stringify(bundle)}\n`);
  if (choice.withLevel && level) files['level.bin'] = prepareLevel(level, []);
  for (const [name, module] of Object.entries(choice.runtime ?? {})) {
    const part = PARTS.find((one) => name === `foreshore-${one}.js`);
    if (part === undefined || bundle.needs.includes(part)) files[`runtime/${name}`] = module;
  }
  const contract = contractOf(document);
  files['contract.json'] = json(contract);
  files['contract.schema.json'] = json(contractSchema(contract));
  files['contract.d.ts'] = utf8(contractTypes(contract));
  files['contract.html'] = utf8(contractHtml(contract));
  const sheet = sheetOf(document, level, text, convention);
  files['sheet.json'] = json(sheet);
  files['sheet.csv'] = utf8(sheetCsv(sheet));
  files['sheet.html'] = utf8(sheetHtml(sheet));
  files['convention.json'] = json(convention);
  const named = Object.keys(files).sort();
  files['manifest.json'] = json({
    format: 'foreshore-export',
    version: 1,
    project: document.name,
    bundle: bundle.hash,
    needs: bundle.needs,
    letters: choice.usedLetters ? 'used' : 'all',
    files: named.map((name) => ({ name, bytes: (files[name] as Uint8Array).byteLength, sha256: sha256(files[name] as Uint8Array) })),
  });
  return Object.fromEntries(Object.entries(files).sort(([a], [b]) => (a < b ? -1 : 1)));
}
