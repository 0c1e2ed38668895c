import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { Projects } from './projects/projects.tsx';
import { Notices } from './shell/notices.tsx';
import { Waiting } from './shell/waiting.tsx';

// The bench brings the 3D drawing and the text shaper; the shelf does without.
const Bench = lazy(() => import('./bench/bench.tsx'));
const Plan = lazy(() => import('./plan/plan.tsx'));
const Feeds = lazy(() => import('./feeds/feeds.tsx'));

export function App() {
  return (
    <>
      <Suspense fallback={<Waiting what="Opening" />}>
        <Routes>
          <Route path="/" element={<Projects />} />
          <Route path="/p/:id/bench" element={<Bench />} />
          <Route path="/p/:id/plan" element={<Plan />} />
          <Route path="/p/:id/feeds" element={<Feeds />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Suspense>
      <Notices />
    </>
  );
}
