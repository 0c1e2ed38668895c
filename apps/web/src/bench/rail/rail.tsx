/** The rail: the other viewers with their verdicts, then what is selected or the settings of an open step. */

import { wholeSize } from '@foreshore/core';
import { type Document, inOrder, type Viewer } from '@foreshore/document';
import { formatArcmin, STEP_TITLES, sayLink, sayShort, sayShortfall, shortLink } from '@foreshore/words';
import { UnstyledButton } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { IconCheck, IconChevronDown, IconChevronRight, IconMinus, IconX } from '@tabler/icons-react';
import { useLayoutEffect, useRef } from 'react';
import { useEngine } from '../../questions/engine-context.ts';
import { useBench, useBenchPart, type Verdict } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { StepSettings } from '../chain/step-settings.tsx';
import { Content } from '../content/content.tsx';
import { ExtremesPanel } from './extremes-panel.tsx';
import { GameSection } from './game-section.tsx';
import { LiveList } from './live-list.tsx';
import { Order } from './order.tsx';
import { ProjectSettings } from './project-settings.tsx';
import { RaySettings } from './ray-settings.tsx';
import { ViewerSettings } from './viewer-settings.tsx';
import './rail.css';

type Said = { kind: 'none' | 'yes' | 'small' | 'no'; text: string };
function verdictOf(verdict: Verdict | undefined, selected: boolean, document: Document): Said {
  if (!verdict) return { kind: 'none', text: selected ? 'not placed by itself' : 'nothing selected' };
  if (verdict.no) return { kind: 'no', text: `${STEP_TITLES[verdict.no.step]}: ${shortLink(verdict.no, document)}` };
  if (!verdict.shown) return { kind: 'no', text: 'not shown' };
  if (verdict.faults.length > 0) return { kind: 'small', text: sayShort(verdict.faults) };
  return { kind: 'yes', text: verdict.capArcmin > 0 ? `${formatArcmin(verdict.capArcmin)} arcmin` : 'shown' };
}

/** The same in full, for its title. */
function inFull(verdict: Verdict | undefined, document: Document, short: string): string {
  if (verdict?.no) return `${STEP_TITLES[verdict.no.step]}: ${sayLink(verdict.no, document)}`;
  return verdict?.faults.length ? verdict.faults.map((fault) => sayShortfall(fault, document)).join('; ') : short;
}

/** What a viewer's present frame says of the selection; it alone is made anew with every picture. */
function VerdictText({ viewer }: { viewer: string }) {
  const verdict = useBench((s) => s.info?.verdicts.find((v) => v.viewer === viewer));
  const document = useShown();
  if (!document) return null;
  const { kind, text } = verdictOf(verdict, useBench.getState().selection !== null, document);
  const Icon = kind === 'yes' ? IconCheck : kind === 'no' ? IconX : IconMinus;
  return (
    <span className="verdict" data-verdict={kind} title={inFull(verdict, document, text)}>
      {kind !== 'none' && <Icon size={13} stroke={2.6} aria-hidden="true" />}
      <span>{text}</span>
    </span>
  );
}

const sayViewer = (viewer: Viewer): string => {
  const pixels = `${viewer.widthPx} x ${viewer.heightPx} px`;
  if (viewer.kind === 'headset') return `${pixels} an eye, ${(viewer.eyeDistanceM * 1000).toFixed(0)} mm between the eyes`;
  const screen = `${pixels}, ${viewer.diagonalIn} in at ${viewer.distanceM} m`;
  return viewer.kind === 'split' ? `${screen}, for ${viewer.players.length} players` : screen;
};

/** Four others stand two abreast; more, up to six, three abreast. */
const TILE = { few: { width: 178, height: 92 }, many: { width: 114, height: 66 } };
const FEW = 4;
const MOST_TILES = 6;

function Tile({ id, viewer, room }: { id: string; viewer: Viewer; room: { width: number; height: number } }) {
  const engine = useEngine();
  const canvas = useRef<HTMLCanvasElement>(null);
  const whole = wholeSize(viewer);
  const aspect = whole.widthPx / whole.heightPx;
  const width = Math.round(Math.min(room.width, room.height * aspect));
  const height = Math.round(width / aspect);
  useLayoutEffect(() => {
    engine.setTile(id, canvas.current);
    return () => engine.setTile(id, null);
  }, [engine, id, width, height]);
  return (
    <UnstyledButton
      className="tile"
      data-viewer={id}
      onClick={() => useBench.setState({ viewer: id })}
      title={`Look through ${viewer.name}: ${sayViewer(viewer)}`}
    >
      <span className="tile-picture">
        <canvas ref={canvas} width={width} height={height} style={{ width, height }} />
      </span>
      <span className="tile-text">
        <span className="tile-name">{viewer.name}</span>
        <VerdictText viewer={id} />
      </span>
    </UnstyledButton>
  );
}

const RAIL_NAMES = { content: 'Content', order: 'Order', viewer: 'Viewer' };

function RailBody() {
  const { mode, rail, extreme } = useBenchPart('mode', 'rail', 'extreme');
  if (mode === 'try') return <LiveList />;
  if (extreme) return <ExtremesPanel />;
  return (
    <>
      <span className="switch rail-switch" role="group" aria-label="The rail shows">
        {(['content', 'order', 'viewer'] as const).map((what) => (
          <UnstyledButton key={what} aria-pressed={rail === what} onClick={() => useBench.setState({ rail: what })}>
            {RAIL_NAMES[what]}
          </UnstyledButton>
        ))}
      </span>
      {rail === 'order' ? (
        <Order />
      ) : rail === 'viewer' ? (
        <>
          <ViewerSettings />
          <RaySettings />
          <ProjectSettings />
        </>
      ) : (
        <Content />
      )}
    </>
  );
}

/** How the other viewers stand above: as pictures, as lines, or lines as soon as something is selected, which then is edited.
 * While trying with nothing selected they have nothing to say, and what was sent has the room. */
type TilesAs = 'auto' | 'pictures' | 'lines';

function Viewers({ edited, trying }: { edited: boolean; trying: boolean }) {
  const document = useShown();
  const { viewer } = useBenchPart('viewer');
  const [as, setAs] = useLocalStorage<TilesAs>({ key: 'foreshore.tiles', defaultValue: 'auto', getInitialValueInEffect: false });
  if (!document) return null;
  const viewers = inOrder(document.viewers);
  const others = viewers.filter(([id]) => id !== viewer);
  const lines = as === 'lines' || (as === 'auto' && (edited || trying));
  const Icon = lines ? IconChevronRight : IconChevronDown;
  return (
    <section className="viewers" aria-label="At every viewer">
      <UnstyledButton
        className="viewers-fold"
        aria-expanded={!lines}
        title={lines ? 'Show pictures of the other viewers' : 'Fold the pictures to lines'}
        onClick={() => setAs(lines ? 'pictures' : 'lines')}
      >
        <Icon size={14} aria-hidden="true" />
        At every viewer
      </UnstyledButton>
      {lines && trying && !edited ? null : lines ? (
        <div className="tile-lines">
          {viewers.map(([id, one]) => (
            <UnstyledButton
              key={id}
              className="tile-line"
              data-viewer={id}
              aria-current={id === viewer}
              onClick={() => useBench.setState({ viewer: id })}
            >
              <span className="tile-line-name">{one.name}</span>
              <VerdictText viewer={id} />
            </UnstyledButton>
          ))}
        </div>
      ) : (
        <div className="tiles" data-many={others.length > FEW}>
          {others.slice(0, MOST_TILES).map(([id, one]) => (
            <Tile key={id} id={id} viewer={one} room={others.length > FEW ? TILE.many : TILE.few} />
          ))}
        </div>
      )}
    </section>
  );
}

/** Its room, until it is there. */
export const RailRoom = () => <div className="rail" />;

export function Rail() {
  const { openStep, selection, mode, extreme } = useBenchPart('openStep', 'selection', 'mode', 'extreme');
  const step = selection && mode !== 'try' && !extreme ? openStep : null;
  return (
    <aside className="rail" aria-label="Viewers and settings">
      <Viewers edited={selection !== null} trying={mode === 'try'} />
      <GameSection />
      {step && selection ? <StepSettings step={step} id={selection} /> : <RailBody />}
    </aside>
  );
}
