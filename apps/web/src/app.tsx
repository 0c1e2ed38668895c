import { useEffect, useState } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { whenIdle } from './level/pause.ts';
import { Projects } from './projects/projects.tsx';
import { Boundary } from './shell/boundary.tsx';
import { Notices } from './shell/notices.tsx';
import { Standing } from './shell/standing.tsx';
import { viewOf } from './shell/view.tsx';

// The bench brings the 3D drawing and the text shaper; the shelf does without.
const Bench = viewOf(() => import('./bench/bench.tsx'));
const Plan = viewOf(() => import('./plan/plan.tsx'));
const Checks = viewOf(() => import('./checks/checks.tsx'));
const Feeds = viewOf(() => import('./feeds/feeds.tsx'));
const Handoff = viewOf(() => import('./handoff/handoff.tsx'));

/** Each view fails by itself. Going to another one, or back, tries anew. */
const framed = (view: React.ReactElement) => <Boundary>{view}</Boundary>;

/** What is told is told over what is there: that goes before, but not for long. */
const TOLD_MS = 500;

export function App() {
  const [told, setTold] = useState(false);
  useEffect(() => whenIdle(() => setTold(true), TOLD_MS), []);
  return (
    <>
      <Routes>
        <Route path="/" element={framed(<Projects />)} />
        <Route path="/p/:id/bench" element={framed(<Bench />)} />
        <Route path="/p/:id/plan" element={framed(<Plan />)} />
        <Route path="/p/:id/checks" element={framed(<Checks />)} />
        <Route path="/p/:id/feeds" element={framed(<Feeds />)} />
        <Route path="/p/:id/handoff" element={framed(<Handoff />)} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
      <Standing />
      {told && <Notices />}
    </>
  );
}
