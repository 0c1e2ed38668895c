/** Proof frames: taken away, and what a port made of them, with the frame that differs drawn, theirs over ours. */

import { screenIn } from '@foreshore/handoff/convention';
import { diagnose, FAULT_WORDS, type Verdict as Judged, type Results, readResultsCsv, resultsSchema } from '@foreshore/handoff/diagnose';
import type { Proof } from '@foreshore/handoff/proof';
import { Button, FileButton } from '@mantine/core';
import { IconDownload, IconFileImport } from '@tabler/icons-react';
import { useState } from 'react';
import { api } from '../state/api.ts';
import { sayFailed } from '../state/notices.ts';

/** Larger files than this are no results of some dozens of frames. */
const MOST_BYTES = 64 * 1024 * 1024;

async function readResults(file: File): Promise<Results> {
  if (file.size > MOST_BYTES) throw new Error(`"${file.name}" is larger than results of proof frames can be.`);
  const text = await file.text();
  if (/\.csv$/i.test(file.name)) return readResultsCsv(text);
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Error(`"${file.name}" is no JSON. Results are JSON or CSV, written as the proof frames are.`);
  }
  const read = resultsSchema.safeParse(json);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new Error(`"${file.name}", at /${issue?.path.join('/')}: ${issue?.message}.`);
}

interface Shown {
  proof: Proof;
  results: Results;
  verdict: Judged;
}

const WIDE_PX = 420;
function FramePicture({ proof, results, frame: id }: Pick<Shown, 'proof' | 'results'> & { frame: string }) {
  const frame = proof.frames.find((one) => one.id === id);
  const theirs = results.frames.find((one) => one.id === id);
  if (!frame || !theirs) return null;
  const { widthPx, heightPx } = frame.screen;
  const scale = WIDE_PX / widthPx;
  const within = (v: number, most: number) => Math.max(-60, Math.min(most + 60, v));
  const at = (x: number | null, y: number | null): [number, number] | null => {
    if (x === null || y === null) return null;
    const [u, v] = screenIn(proof.convention, [x, y], widthPx, heightPx);
    return [within(u * scale, WIDE_PX), within(v * scale, heightPx * scale)];
  };
  return (
    <svg
      className="proof-frame"
      viewBox={`-20 -20 ${WIDE_PX + 40} ${heightPx * scale + 40}`}
      width={WIDE_PX}
      role="img"
      aria-label={`${id}: ours as rings, theirs as crosses`}
    >
      <rect width={WIDE_PX} height={heightPx * scale} />
      {Object.entries(frame.points).map(([name, point]) => {
        const ours = at(point.x, point.y);
        const one = theirs.points[name];
        const other = one ? at(one.x, one.y) : null;
        return (
          <g key={name}>
            {ours && other && <line className="proof-apart" x1={ours[0]} y1={ours[1]} x2={other[0]} y2={other[1]} />}
            {ours && <circle cx={ours[0]} cy={ours[1]} r={4} />}
            {other && <path d={`M${other[0] - 4} ${other[1] - 4}l8 8m0-8l-8 8`} />}
          </g>
        );
      })}
    </svg>
  );
}

const count = (n: number, one: string): string => `${n} ${n === 1 ? one : `${one}s`}`;

function Judgement({ proof, results, verdict }: Shown) {
  const { compared, different, missing, fault, first, frames, elementsCompared, elementsDifferent, alsoPossible } = verdict;
  const isRight = compared > 0 && different === 0 && missing.length === 0 && elementsDifferent.length === 0;
  return (
    <div className="judgement" role="status" data-fault={fault ?? (isRight ? 'none' : 'unknown')}>
      <p>
        <b>
          {isRight
            ? 'The port is right in all that was compared.'
            : fault
              ? FAULT_WORDS[fault]
              : different
                ? 'No known fault explains all of it.'
                : ''}
        </b>
      </p>
      <p className="num">
        {count(compared, 'point')} compared, {different} differ in {count(frames.length, 'frame')}
        {elementsCompared > 0 && `; ${count(elementsCompared, 'element')} compared, ${elementsDifferent.length} differ`}
      </p>
      {alsoPossible.length > 0 && <p>As well possible: {alsoPossible.map((one) => FAULT_WORDS[one]).join(' ')}</p>}
      {missing.length > 0 && (
        <p>
          Missing: {missing.slice(0, 6).join(', ')}
          {missing.length > 6 && ` and ${missing.length - 6} more`}.
        </p>
      )}
      {first && (
        <figure>
          <FramePicture proof={proof} results={results} frame={first.frame} />
          <figcaption>
            {first.frame}, {first.point}: {first.byPx === null ? 'one of the two has no place' : `${first.byPx.toPrecision(3)} px apart`}.
            Rings are ours, crosses theirs.
          </figcaption>
        </figure>
      )}
      {elementsDifferent.length > 0 && (
        <ul>
          {elementsDifferent.slice(0, 8).map(({ frame, element, says }) => (
            <li key={`${frame} ${element}`}>
              {frame}, {element} {says}.
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

export function ProofPart({ id }: { id: string }) {
  const [shown, setShown] = useState<Shown | null>(null);
  const [busy, setBusy] = useState(false);
  const judge = async (file: File | null): Promise<void> => {
    if (!file) return;
    setBusy(true);
    try {
      const [results, proof] = await Promise.all([readResults(file), api.proof(id)]);
      setShown({ proof, results, verdict: diagnose(proof, results) });
    } catch (error) {
      sayFailed((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <section className="handoff-part" aria-label="Proof frames">
      <h2>Proof frames</h2>
      <p className="hint">
        Cameras, places and what must come out, for whoever brings the calculation to another engine. Its results tell whether it is right,
        and if not, which known fault explains it.
      </p>
      <div className="handoff-buttons">
        <Button
          size="xs"
          variant="default"
          component="a"
          href={`/api/projects/${id}/proof`}
          download
          leftSection={<IconDownload size={15} />}
        >
          Take the frames
        </Button>
        <FileButton onChange={(file) => void judge(file)} accept=".json,.csv">
          {(props) => (
            <Button {...props} size="xs" variant="default" loading={busy} leftSection={<IconFileImport size={15} />}>
              Judge the results of a port
            </Button>
          )}
        </FileButton>
      </div>
      {shown && <Judgement {...shown} />}
    </section>
  );
}
