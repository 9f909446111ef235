import { lazy, Suspense, useState } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { useServerEvents } from '../api/events';
import { useRunNotifications } from './notify';
import { useProduction, useProductions } from '../api/queries';
import { RibbonHolder } from '../timeline/RibbonHolder';
import { LINE, useFollowingAddress, useGo, usePlace } from './address';
import { Button } from './Button';
import { ErrorBoundary } from './ErrorBoundary';
import { Finder } from './Finder';
import { HealthBar } from './HealthBar';
import { Help } from './Help';
import { useChords, useKeys } from './keys';
import { Line } from './Line';
import { usePlayheadInAddress } from './playhead';
import { ProductionMenu } from './ProductionMenu';
import { Pulse } from './Pulse';
import { useUndo } from './undo';

const SceneStation = lazy(() => import('../scene/SceneStation'));
const ShotsStation = lazy(() => import('../shots/ShotsStation'));
const LayersStation = lazy(() => import('../layers/LayersStation'));
const QualityStation = lazy(() => import('../quality/QualityStation'));
const BoardStation = lazy(() => import('../board/BoardStation'));
const RunStation = lazy(() => import('../run/RunStation'));
const ReviewStation = lazy(() => import('../review/ReviewStation'));
const AssemblyStation = lazy(() => import('../assembly/AssemblyStation'));

export function App() {
  const connected = useServerEvents();
  useRunNotifications();
  const productions = useProductions().data;
  const production = useProduction().data;
  const place = usePlace();
  const [help, setHelp] = useState(false);
  const [finding, setFinding] = useState(false);
  const go = useGo();
  const undo = useUndo();
  usePlayheadInAddress();
  useFollowingAddress();
  useKeys((e) => {
    if (e.key === '?') {
      setHelp(true);
      return true;
    }
    const station = LINE[Number(e.key) - 1];
    if (station) {
      go({ station });
      return true;
    }
    return false;
  });
  useChords({
    k: () => setFinding(true),
    z: () => undo('undo'),
    'shift+z': () => undo('redo'),
  });
  const first = productions?.find((p) => !p.archived) ?? productions?.[0];
  return (
    <div className="grid h-full min-w-[1100px] grid-rows-[64px_auto_minmax(0,1fr)_108px]">
      <header className="flex items-center gap-6 border-b border-line px-5">
        <ProductionMenu />
        <Line />
        <Pulse connected={connected} onHelp={() => setHelp(true)} onFind={() => setFinding(true)} />
      </header>
      <div>
        <HealthBar />
      </div>
      <ErrorBoundary>
        <Suspense fallback={<main />}>
          {productions && place && !production ? (
            <NoProduction address={place.production} />
          ) : (
            <Routes>
              <Route path="/:production/scene/*" element={<SceneStation />} />
              <Route path="/:production/shots/*" element={<ShotsStation />} />
              <Route path="/:production/layers/*" element={<LayersStation />} />
              <Route path="/:production/quality/*" element={<QualityStation />} />
              <Route path="/:production/board/*" element={<BoardStation />} />
              <Route path="/:production/run/*" element={<RunStation />} />
              <Route path="/:production/review/*" element={<ReviewStation />} />
              <Route path="/:production/assembly/*" element={<AssemblyStation />} />
              <Route
                path="*"
                element={
                  first ? (
                    <Navigate to={`/${encodeURIComponent(first.address)}/scene`} replace />
                  ) : (
                    <main />
                  )
                }
              />
            </Routes>
          )}
        </Suspense>
      </ErrorBoundary>
      <ErrorBoundary>
        <RibbonHolder />
      </ErrorBoundary>
      <Help open={help} onClose={() => setHelp(false)} />
      {finding && <Finder onClose={() => setFinding(false)} onHelp={() => setHelp(true)} />}
    </div>
  );
}

function NoProduction({ address }: { address: string }) {
  const go = useGo();
  const others = useProductions().data ?? [];
  return (
    <main className="grid place-items-center bg-well">
      <div className="text-center">
        <p className="big mb-2">No production at this address</p>
        <p className="mb-5 text-t2">
          “{address}” may have been renamed; an address follows its production’s name.
        </p>
        <div className="flex flex-wrap justify-center gap-2.5">
          {others.map((p) => (
            <Button
              key={p.id}
              onClick={() =>
                go({ production: p.address, station: 'scene', shot: undefined, version: undefined })
              }
            >
              Open {p.name}
            </Button>
          ))}
        </div>
      </div>
    </main>
  );
}
