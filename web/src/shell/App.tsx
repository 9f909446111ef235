import { lazy, Suspense, useState } from 'react';
import { Navigate, Route, Routes, useNavigate } from 'react-router';
import { useServerEvents } from '../api/events';
import { useProduction } from '../api/queries';
import { RibbonHolder } from '../timeline/RibbonHolder';
import { ErrorBoundary } from './ErrorBoundary';
import { HealthBar } from './HealthBar';
import { Help } from './Help';
import { useKeys } from './keys';
import { Line } from './Line';
import { Pulse } from './Pulse';

const SceneStation = lazy(() => import('../scene/SceneStation'));
const ShotsStation = lazy(() => import('../shots/ShotsStation'));
const RunStation = lazy(() => import('../run/RunStation'));
const ReviewStation = lazy(() => import('../review/ReviewStation'));

const PATHS = ['/scene', '/shots', '/run', '/review'];

export function App() {
  const connected = useServerEvents();
  const production = useProduction().data;
  const [help, setHelp] = useState(false);
  const navigate = useNavigate();
  useKeys((e) => {
    if (e.key === '?') {
      setHelp(true);
      return true;
    }
    const station = PATHS[Number(e.key) - 1];
    if (station) {
      void navigate(station);
      return true;
    }
    return false;
  });
  return (
    <div className="grid h-full min-w-[1100px] grid-rows-[64px_auto_minmax(0,1fr)_108px]">
      <header className="flex items-center gap-6 border-b border-line px-5">
        <div className="w-26 leading-4">
          <div className="text-[15px] font-[640] [font-stretch:118%]">Posada</div>
          <div className="truncate text-t2" title={production?.name}>
            {production?.name}
          </div>
        </div>
        <Line />
        <Pulse connected={connected} onHelp={() => setHelp(true)} />
      </header>
      <div>
        <HealthBar />
      </div>
      <ErrorBoundary>
        <Suspense fallback={<main />}>
          <Routes>
            <Route path="/scene" element={<SceneStation />} />
            <Route path="/shots" element={<ShotsStation />} />
            <Route path="/run" element={<RunStation />} />
            <Route path="/review" element={<ReviewStation />} />
            <Route path="*" element={<Navigate to="/scene" replace />} />
          </Routes>
        </Suspense>
      </ErrorBoundary>
      <ErrorBoundary>
        <RibbonHolder />
      </ErrorBoundary>
      <Help open={help} onClose={() => setHelp(false)} />
    </div>
  );
}
