import './index.css';
import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { queryClient } from './api/queries';
import { App } from './shell/App';
import { Gate } from './shell/Gate';
import { RefusalProvider } from './shell/Refusals';
import { NoticeProvider } from './shell/Notices';

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      {/* At once: what is pressed while a station is loading must not act on the place before. */}
      <BrowserRouter useTransitions={false}>
        <RefusalProvider>
          <NoticeProvider>
            <Gate>
              <App />
            </Gate>
          </NoticeProvider>
        </RefusalProvider>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
