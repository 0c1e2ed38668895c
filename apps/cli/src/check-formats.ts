/** What a check found, in the forms that people and builds read. The same findings give the same bytes. */
import {
  acceptanceOf,
  type CheckRun,
  type Compared,
  coverageOf,
  FINDING_KINDS,
  type Finding,
  type FindingKind,
  type GatheredEffect,
} from '@foreshore/checks';
import { formatSeconds, sayFinding, sayRouteEffect, sayWhere } from '@foreshore/words';

export interface Report {
  run: CheckRun;
  findings: readonly Finding[];
  /** Those for which the check fails. */
  failed: readonly Finding[];
  compared: Compared | null;
  /** The project's file, as it was named. */
  file: string;
  /** Pictures of moments as SVG, by the keys of findings: for the page. */
  pictures?: ReadonlyMap<string, string>;
}

const counted = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;
const line = (finding: Finding, run: CheckRun): string =>
  `${finding.name}: ${sayFinding(finding, run.names)}${around(sayWhere(finding))}${accepted(finding, run)}`;
/** What is so everywhere says nowhere. */
const around = (where: string): string => (where ? ` (${where})` : '');
function accepted(finding: Finding, run: CheckRun): string {
  const said = acceptanceOf(run, finding);
  return said ? `; accepted by ${said.by} on ${said.on}: ${said.reason}` : '';
}
const minutes = ({ results }: CheckRun): string => (results.reduce((sum, { durationS }) => sum + durationS, 0) / 60).toFixed(1);

/** What the routes do not reach, beside elements that are never shown: those are findings. */
function unreached(run: CheckRun): string[] {
  const { phases, actions } = coverageOf(run) ?? { phases: [], actions: [] };
  return [
    ...phases.map(({ name }) => `the phase ${name}`),
    ...actions.map(({ name, senders }) => `the action ${name}${senders.length === 0 ? ', which nothing sends' : ''}`),
  ];
}

function text({ run, findings, failed, compared }: Report): string {
  const kinds = new Map<FindingKind, Finding[]>();
  for (const finding of findings) kinds.set(finding.kind, [...(kinds.get(finding.kind) ?? []), finding]);
  const out = [`${run.project}: ${counted(run.results.length, 'part')} measured, ${minutes(run)} minutes of routes.`];
  for (const [kind, of] of kinds) {
    out.push('', `${FINDING_KINDS[kind].title} (${of.length}; ${FINDING_KINDS[kind].source})`);
    for (const finding of of) out.push(`  ${line(finding, run)}`);
  }
  if (compared) {
    const { fresh, gone, worse, better } = compared;
    out.push('', `Against the baseline: ${fresh.length} new, ${worse.length} worse, ${better.length} better, ${gone.length} gone.`);
    for (const finding of fresh) out.push(`  new: ${line(finding, run)}`);
    for (const finding of worse) out.push(`  worse: ${line(finding, run)}`);
  }
  const missed = unreached(run);
  if (missed.length > 0) out.push('', 'On none of the routes', ...missed.map((one) => `  ${one}`));
  out.push('', findings.length === 0 ? 'Nothing was found.' : `${counted(findings.length, 'finding')}; ${failed.length} fail.`);
  return `${out.join('\n')}\n`;
}

/** Two checks, finding by finding. */
export function comparison({ fresh, worse, better, gone }: Compared, before: CheckRun, after: CheckRun): string {
  const of = (what: string, findings: readonly Finding[], run: CheckRun) => findings.map((finding) => `${what}: ${line(finding, run)}`);
  const lines = [...of('new', fresh, after), ...of('worse', worse, after), ...of('better', better, after), ...of('gone', gone, before)];
  const counts = `${fresh.length} new, ${worse.length} worse, ${better.length} better, ${gone.length} gone.`;
  return `${[...lines, counts].join('\n')}\n`;
}

/** What is another along the routes at elements that nobody edited. */
export function sideEffects(effects: readonly GatheredEffect[], { names }: CheckRun): string {
  const lines = effects.map((effect) => {
    const others = effect.viewers.length > 1 ? `, and ${counted(effect.viewers.length - 1, 'more viewer')}` : '';
    const said = [effect, ...effect.also].map(sayRouteEffect).join('; ');
    return `not edited: ${names[effect.element] ?? effect.element}: ${said} (${effect.viewer}, ${effect.language}, ${effect.route} at ${formatSeconds(effect.atS)} s${others})`;
  });
  return `${[...lines, `${counted(effects.length, 'side effect')}.`].join('\n')}\n`;
}

const json = ({ run }: Report): string => `${JSON.stringify(run)}\n`;

/** A token of a JSON Pointer (RFC 6901). */
const token = (id: string): string => id.replace(/~/g, '~0').replace(/\//g, '~1');

/** SARIF 2.1.0: a rule a kind, a result a finding; where, as a JSON Pointer into the document. */
function sarif({ run, findings, failed, file }: Report): string {
  const fails = new Set(failed.map(({ key }) => key));
  const kinds = Object.keys(FINDING_KINDS) as FindingKind[];
  const log = {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'Foreshore',
            rules: kinds.map((id) => ({
              id,
              shortDescription: { text: FINDING_KINDS[id].title },
              fullDescription: { text: `${FINDING_KINDS[id].title}. Threshold: ${FINDING_KINDS[id].source}.` },
            })),
          },
        },
        results: findings.map((finding) => ({
          ruleId: finding.kind,
          ruleIndex: kinds.indexOf(finding.kind),
          level: fails.has(finding.key) ? 'error' : 'note',
          message: { text: line(finding, run) },
          locations: [
            {
              physicalLocation: { artifactLocation: { uri: encodeURI(file) } },
              logicalLocations: [{ name: finding.name, fullyQualifiedName: `/elements/${token(finding.element)}`, kind: 'object' }],
            },
          ],
          partialFingerprints: { 'foreshoreFinding/v1': finding.key },
        })),
      },
    ],
  };
  return `${JSON.stringify(log, null, 1)}\n`;
}

const xml = (value: string): string =>
  value
    // What XML 1.0 has no place for.
    .replace(/[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu, '')
    .replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] as string);

/** JUnit: a suite a viewer, a case an element; what fails in it, as failures. */
function junit({ run, failed }: Report): string {
  const viewers = [...new Set(run.parts.map(({ viewer }) => viewer)), ...(failed.some(({ viewer }) => viewer === null) ? [null] : [])];
  const suites = viewers.map((viewer) => {
    const of = failed.filter((finding) => finding.viewer === viewer);
    const elements = viewer === null ? [...new Set(of.map(({ element }) => element))] : Object.keys(run.names);
    const cases = elements.map((id) => {
      const own = of.filter(({ element }) => element === id);
      const name = `<testcase classname="${xml(viewer ?? 'project')}" name="${xml(`${run.names[id] ?? id} (${id})`)}"`;
      if (own.length === 0) return `  ${name}/>`;
      const said = own.map((finding) => xml(line(finding, run))).join('\n');
      return `  ${name}><failure type="${own[0]?.kind}" message="${xml(line(own[0] as Finding, run))}">${said}</failure></testcase>`;
    });
    const failures = elements.filter((id) => of.some(({ element }) => element === id)).length;
    return ` <testsuite name="${xml(viewer ?? 'project')}" tests="${elements.length}" failures="${failures}" errors="0" skipped="0">\n${cases.join('\n')}\n </testsuite>`;
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="${xml(run.project)}">\n${suites.join('\n')}\n</testsuites>\n`;
}

const STYLE = `body{font:14px/1.45 system-ui,sans-serif;margin:2rem auto;max-width:70rem;padding:0 1rem;color:#14202e;background:#fff}
h1{font-size:1.5rem}h2{font-size:1.05rem;margin:1.5rem 0 .3rem}small{color:#51606f;font-weight:400}table{border-collapse:collapse;width:100%}
th,td{text-align:left;padding:.15rem .8rem .15rem 0;border-bottom:1px solid #d5dbe1;vertical-align:top}th{color:#51606f;font-weight:500}.fails{color:#a3271b}img{display:block;width:24rem;max-width:100%;margin:.3rem 0}`;

/** By itself, so that what is named in one picture is not in another. */
const pictured = (finding: Finding, svg: string | undefined): string =>
  svg === undefined
    ? ''
    : `<br><img loading="lazy" alt="${xml(`${finding.name} at ${finding.atS} s`)}" src="data:image/svg+xml,${inAddress(svg)}">`;

/** What an address and the attribute it stands in have no room for (RFC 3986); nothing else grows. */
const inAddress = (svg: string): string => svg.replace(/[^ -~]|["#%&<>]/gu, (c) => encodeURIComponent(c));

/** One page that needs nothing else: elements by viewers, then every finding. */
function html({ run, findings, failed, compared, pictures }: Report): string {
  const fails = new Set(failed.map(({ key }) => key));
  const viewers = [...new Set(run.parts.map(({ viewer }) => viewer))];
  const elements = [...new Set(findings.map(({ element }) => element))];
  const count = (element: string, viewer: string) =>
    findings.filter((one) => one.element === element && one.viewer === viewer).length || '';
  const heat =
    `<h2>Findings by element and viewer</h2><table><tr><th>Element</th>${viewers.map((one) => `<th>${xml(one)}</th>`).join('')}</tr>` +
    elements
      .map((id) => `<tr><td>${xml(run.names[id] ?? id)}</td>${viewers.map((one) => `<td>${count(id, one)}</td>`).join('')}</tr>`)
      .join('') +
    '</table>';
  const kinds = (Object.keys(FINDING_KINDS) as FindingKind[]).flatMap((kind) => {
    const of = findings.filter((finding) => finding.kind === kind);
    if (of.length === 0) return [];
    const rows = of.map(
      (finding) =>
        `<tr${fails.has(finding.key) ? ' class="fails"' : ''}><td>${xml(finding.name)}</td><td>${xml(sayFinding(finding, run.names))}${pictured(finding, pictures?.get(finding.key))}</td><td>${xml(sayWhere(finding) + accepted(finding, run))}</td></tr>`,
    );
    return `<h2>${xml(FINDING_KINDS[kind].title)} <small>${of.length}; ${xml(FINDING_KINDS[kind].source)}</small></h2><table><tr><th>Element</th><th>What</th><th>Where</th></tr>${rows.join('')}</table>`;
  });
  const list = unreached(run);
  const missed = list.length > 0 ? `<h2>On none of the routes</h2><ul>${list.map((one) => `<li>${xml(one)}</li>`).join('')}</ul>` : '';
  const against = compared
    ? `<p>Against the baseline: ${compared.fresh.length} new, ${compared.worse.length} worse, ${compared.better.length} better, ${compared.gone.length} gone.</p>`
    : '';
  return `<!doctype html>\n<html lang="en"><meta charset="utf-8"><title>${xml(run.project)}: check</title><style>${STYLE}</style>
<h1>${xml(run.project)}</h1><p>${counted(run.results.length, 'part')} measured, ${minutes(run)} minutes of routes. ${findings.length === 0 ? 'Nothing was found.' : `${counted(findings.length, 'finding')}, ${failed.length} fail.`}</p>${against}
${findings.length ? heat : ''}${kinds.join('\n')}${missed}\n</html>\n`;
}

export const FORMATS = { text, json, sarif, junit, html } satisfies Record<string, (report: Report) => string>;
export type Format = keyof typeof FORMATS;
