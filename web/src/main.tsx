import '@fontsource/barlow-semi-condensed/latin-400.css'
import '@fontsource/barlow-semi-condensed/latin-500.css'
import '@fontsource/barlow-semi-condensed/latin-600.css'
import '@fontsource/sofia-sans-extra-condensed/latin-600.css'
import './styles/app.css'
import { setNonce } from 'get-nonce'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode, Suspense } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter, Route, Routes, useLocation } from 'react-router'
import { nonce } from './kit/nonce.js'
import { keepForOffline } from './kit/offline.js'
import { bringWhenIdle, soon } from './kit/soon.js'
import { onLetIn, useBefore } from './store/access.js'
import { ApiProblem } from './store/api.js'
import { answered, kept } from './store/kept.js'
import { outbox } from './store/outbox.js'
import { applyTheme } from './store/settings.js'
import { askForBay, connectOutbox } from './store/visit.js'
import { Bay } from './bay/Bay.js'
import { Shortcuts, SkipLink } from './parts/Shortcuts.js'
import { PartBoundary, Waiting } from './parts/States.js'

const Visit = soon(() => import('./visit/Visit.js').then((m) => m.Visit))
const HandsBusy = soon(() => import('./run/HandsBusy.js').then((m) => m.HandsBusy))
const Live = soon(() => import('./live/Live.js').then((m) => m.Live))
const RecordingPage = soon(() => import('./recording/RecordingPage.js').then((m) => m.RecordingPage))
const NewCar = soon(() => import('./car/NewCar.js').then((m) => m.NewCar))
const Card = soon(() => import('./car/Card.js').then((m) => m.Card))
const ProceduresPage = soon(() => import('./procedures/ProceduresPage.js').then((m) => m.ProceduresPage))
const TryRun = soon(() => import('./procedures/TryRun.js').then((m) => m.TryRun))
const Gate = soon(() => import('./access/Gate.js').then((m) => m.Gate))
const SettingsPage = soon(() => import('./settings/SettingsPage.js').then((m) => m.SettingsPage))

/** After the first screen the others come by themselves: a page opened later stands at once, without the server too. */
const LATER_MS = 2500
/** When what opens them without the server is kept [ms]: by then the other screens have mostly come. */
const OFFLINE_MS = 6000
const CHARTS = { ask: () => import('./charts/echarts.js').catch(() => undefined) }

/** The screen of an address; one that cannot be loaded is left behind with its address. */
function Screens() {
  const { pathname } = useLocation()
  return (
    <PartBoundary key={pathname.split('/').slice(0, 3).join('/')}>
      <Suspense fallback={<Waiting what="the bench" />}>
        <Routes>
          <Route path="/" element={<Bay />} />
          <Route path="/new" element={<NewCar />} />
          <Route path="/settings" element={<SettingsPage />} />
          <Route path="/procedures/:id?" element={<ProceduresPage />} />
          <Route path="/procedures/:id/try" element={<TryRun />} />
          <Route path="/car/:id" element={<Card />} />
          <Route path="/visit/:id/run/:run" element={<HandsBusy />} />
          <Route path="/visit/:id/live" element={<Live />} />
          <Route path="/visit/:id/recording/:rec" element={<RecordingPage />} />
          <Route path="/visit/:id/:stage?" element={<Visit />} />
          <Route path="*" element={<Bay />} />
        </Routes>
      </Suspense>
    </PartBoundary>
  )
}

/** A run that is on keeps its screen: whoever is asked for waits until it is over. */
const IN_A_RUN = /^\/visit\/[^/]+\/run\//

/** On a tablet of the network: whoever is asked to sign in. */
function SignedIn() {
  const before = useBefore()
  const { pathname } = useLocation()
  const wanted = pathname === '/pair' || (before !== 'nothing' && !IN_A_RUN.test(pathname))
  return (
    wanted && (
      <Suspense fallback={null}>
        <Gate before={before} />
      </Suspense>
    )
  )
}

setNonce(nonce)
applyTheme()
const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 2000,
      networkMode: 'always',
      persister: answered,
      retry: (n, e) => n < 2 && !(e instanceof ApiProblem && e.problem.status < 500),
    },
  },
})
// its answer is mostly there before the script is: then the first thing drawn is the bay, not a waiting page
if (location.pathname === '/') await Promise.race([askForBay(client), new Promise((r) => setTimeout(r, 200))])
connectOutbox(client)
void outbox.start()
onLetIn(() => void client.invalidateQueries())
void kept.persisterGc()

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <SkipLink />
        <Screens />
        <SignedIn />
        <Shortcuts />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
)
// a tablet whose first page was a car has the bay on hand as well when the server goes
const BAY = { ask: () => (location.pathname === '/' ? Promise.resolve() : askForBay(client)) }
bringWhenIdle(
  [BAY, Visit, Card, CHARTS, HandsBusy, Live, NewCar, RecordingPage, SettingsPage, ProceduresPage, TryRun],
  LATER_MS,
)
// where the browser allows it, the application opens without the server too
if (import.meta.env.PROD && 'serviceWorker' in navigator) setTimeout(() => void keepForOffline(), OFFLINE_MS)
