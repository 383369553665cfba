import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import type { ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import type { VisitFile } from '@uvula/core'
import { connectOutbox, useVisitFile } from '../store/visit.js'

/** Draws a part with what every screen has around it. */
export function draw(part: ReactNode): ReturnType<typeof render> & { readonly client: QueryClient } {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
  const around = (children: ReactNode): ReactNode => (
    <QueryClientProvider client={client}>
      <MemoryRouter>{children}</MemoryRouter>
    </QueryClientProvider>
  )
  return { ...render(around(part)), client }
}

/** A part that sees its visit as a screen does: with what is on its way laid over it. */
export function drawOnVisit(
  file: VisitFile,
  part: (file: VisitFile) => ReactNode,
): ReturnType<typeof render> & { readonly client: QueryClient } {
  function OnVisit() {
    const { file: now } = useVisitFile(file.visit.id)
    return now ? part(now) : null
  }
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
  client.setQueryData(['visit', file.visit.id], file)
  connectOutbox(client)
  return {
    client,
    ...render(
      <QueryClientProvider client={client}>
        <MemoryRouter>
          <OnVisit />
        </MemoryRouter>
      </QueryClientProvider>,
    ),
  }
}
