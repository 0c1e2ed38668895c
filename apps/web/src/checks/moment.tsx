/** A small picture of the moment of a finding, made when somebody comes to see it; large where it is pressed. */
import type { Finding } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { formatSeconds } from '@foreshore/words';
import { Popover } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { askWorker } from '../questions/asks.ts';
import { useProject } from '../state/project.ts';
import { viewerName } from './words.ts';

/** Pictures are asked for one after another: what else is asked is not kept waiting for many. */
const waiting: (() => Promise<void>)[] = [];
let busy = false;
async function goOn(): Promise<void> {
  if (busy) return;
  busy = true;
  for (let next = waiting.shift(); next; next = waiting.shift()) await next();
  busy = false;
}

/** Pictures of a state of the project. */
let made: { of: Document | null; pictures: Map<string, string | null> } = { of: null, pictures: new Map() };
const MOST_KEPT = 300;

const addressOf = (svg: string | null): string | null => svg && URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));

/** The project is another, or in another state. */
function forgetAll(of: Document): void {
  for (const url of made.pictures.values()) if (url) URL.revokeObjectURL(url);
  made = { of, pictures: new Map() };
}
/** Those made first have scrolled out of sight longest ago. */
function keep(key: string, url: string | null): void {
  const [oldest] = made.pictures;
  if (made.pictures.size >= MOST_KEPT && oldest) {
    if (oldest[1]) URL.revokeObjectURL(oldest[1]);
    made.pictures.delete(oldest[0]);
  }
  made.pictures.set(key, url);
}

/** @returns the picture's address; undefined while there is none yet, null where there can be none. */
function usePicture(finding: Finding, isSeen: boolean): string | null | undefined {
  const document = useProject((s) => s.document);
  const { key, viewer, language, route, variant, atS, element } = finding;
  const [picture, setPicture] = useState<string | null | undefined>();
  useEffect(() => {
    if (!isSeen || !document || viewer === null || language === null || route === null) return;
    if (made.of !== document) forgetAll(document);
    const known = made.pictures.get(`${key} ${atS}`);
    setPicture(known);
    if (known !== undefined) return;
    let left = false;
    waiting.push(
      () =>
        new Promise((resolve) => {
          if (left) return resolve();
          askWorker(
            { kind: 'moment', document, viewer, language, route, atS, element, ...(variant !== undefined && { variant }) },
            (answer) => {
              const url = 'svg' in answer ? addressOf(answer.svg) : null;
              if (made.of === document) keep(`${key} ${atS}`, url);
              if (!left) setPicture(url);
              resolve();
            },
          );
        }),
    );
    void goOn();
    return () => {
      left = true;
    };
  }, [isSeen, document, key, atS]);
  return picture;
}

export function MomentPicture({ finding, document }: { finding: Finding; document: Document }) {
  const [opened, setOpened] = useState(false);
  const [isSeen, setSeen] = useState(false);
  const box = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new IntersectionObserver(([entry]) => entry?.isIntersecting && setSeen(true), { rootMargin: '100px' });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const picture = usePicture(finding, isSeen);
  const viewer = finding.viewer === null ? undefined : document.viewers[finding.viewer];
  if (!viewer || finding.route === null || !document.routes[finding.route] || picture === null) return <span className="finding-picture" />;
  const said = `${document.elements[finding.element]?.name ?? finding.name} at ${viewerName(document, finding.viewer)}, ${formatSeconds(finding.atS)} s`;
  return (
    <Popover opened={opened} onChange={setOpened} withinPortal position="right" trapFocus>
      <Popover.Target>
        <button
          ref={box}
          type="button"
          className="finding-picture"
          aria-label={`Picture: ${said}`}
          aria-expanded={opened}
          data-picture={picture ? 'there' : 'waiting'}
          onClick={() => setOpened(!opened)}
        >
          {picture && <img src={picture} alt="" />}
        </button>
      </Popover.Target>
      <Popover.Dropdown>{picture && <img className="finding-large" src={picture} alt={said} />}</Popover.Dropdown>
    </Popover>
  );
}
