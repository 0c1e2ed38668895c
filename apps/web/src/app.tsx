import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { Projects } from './projects/projects.tsx';
import { Boundary } from './shell/boundary.tsx';
import { Notices } from './shell/notices.tsx';
import { Standing } from './shell/standing.tsx';
import { Waiting } from './shell/waiting.tsx';

// The bench brings the 3D drawing and the text shaper; the shelf does without.
const Bench = lazy(() => import('./bench/bench.tsx'));
const Plan = lazy(() => import('./plan/plan.tsx'));
const Checks = lazy(() => import('./checks/checks.tsx'));
const Feeds = lazy(() => import('./feeds/feeds.tsx'));
const Handoff = lazy(() => import('./handoff/handoff.tsx'));

/** Each view fails by itself. Going to another one, or back, tries anew. */
const framed = (view: React.ReactElement) => <Boundary>{view}</Boundary>;

export function App() {
  return (
    <>
      <Suspense fallback={<Waiting what="Opening" />}>
        <Routes>
          <Route path="/" element={framed(<Projects />)} />
          <Route path="/p/:id/bench" element={framed(<Bench />)} />
          <Route path="/p/:id/plan" element={framed(<Plan />)} />
          <Route path="/p/:id/checks" element={framed(<Checks />)} />
          <Route path="/p/:id/feeds" element={framed(<Feeds />)} />
          <Route path="/p/:id/handoff" element={framed(<Handoff />)} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Suspense>
      <Standing />
      <Notices />
    </>
  );
}
