/** Extremes: every feed at its ends, at every viewer, and what then goes wrong on the glass. */

import { type Extreme, extremes } from '@foreshore/checks';
import { compile } from '@foreshore/core';
import { UnstyledButton } from '@mantine/core';
import { useMemo } from 'react';
import { useEngine } from '../../questions/engine-context.ts';
import { showEnd } from '../../questions/extremes.ts';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { languageName } from '../../words/languages.ts';

const SAYS: Record<Extreme['fault'], string> = {
  outsideScreen: 'leaves the screen',
  outsideSafeArea: 'leaves the safe area',
  outsideGroup: 'leaves its group',
  overlaps: 'runs into',
  textTooLong: 'needs more room than it has,',
  textCut: 'is cut short',
  glyphMissing: 'has letters that no font has',
  contrast: 'has too little contrast:',
};

export function ExtremesPanel() {
  const engine = useEngine();
  const document = useShown();
  const { extreme, viewer } = useBenchPart('extreme', 'viewer');
  const phase = engine.phase();
  const found = useMemo(() => (document ? extremes(compile(document, null), engine.shaper, phase) : []), [document, phase, engine]);
  if (!document) return null;
  return (
    <section className="section" aria-label="Extremes">
      <h2>
        Extremes
        <span className="spring" />
        <span className="switch" role="group" aria-label="Feeds at">
          {(['least', 'greatest'] as const).map((end) => (
            <UnstyledButton key={end} aria-pressed={extreme === end} onClick={() => showEnd(end)}>
              All {end}
            </UnstyledButton>
          ))}
        </span>
        <UnstyledButton className="text-button" onClick={() => showEnd(null)}>
          Done
        </UnstyledButton>
      </h2>
      <p className="hint">
        Every number at the end of its range, every text at its shortest and its longest, at all {Object.keys(document.viewers).length}{' '}
        viewers, in {1 + (document.languages?.length ?? 0)} {document.languages?.length ? 'languages' : 'language'}, in the phase{' '}
        {document.phases[phase ?? '']?.name ?? 'there is'}.
      </p>
      <ul className="extremes" data-found={found.length}>
        {found.length === 0 && <li className="fine">Everything keeps its place.</li>}
        {found.map((one) => (
          <li
            key={`${one.viewer} ${one.language} ${one.end} ${one.element} ${one.fault} ${one.with ?? ''}`}
            data-here={one.viewer === viewer && one.end === extreme}
          >
            <UnstyledButton
              className="link-button"
              onClick={() => {
                showEnd(one.end);
                useBench.setState({
                  viewer: one.viewer,
                  selection: one.element,
                  language: one.language === document.language ? null : one.language,
                });
              }}
            >
              {document.elements[one.element]?.name}
            </UnstyledButton>{' '}
            {SAYS[one.fault]} {one.with ? document.elements[one.with]?.name : ''}{' '}
            {one.ratio && (
              <span className="num">
                {one.ratio.least.toFixed(1)}:1 of {one.ratio.needed}:1
              </span>
            )}
            {one.byPx > 0 && (
              <>
                by <span className="num">{one.byPx.toFixed(0)} px</span>
              </>
            )}
            <span className="hint">
              {' '}
              {document.viewers[one.viewer]?.name}, {languageName(one.language)}, all {one.end}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
