import { Dialog as Radix } from 'radix-ui'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useLocation, useNavigate } from 'react-router'
import type { Standing } from '@uvula/contract'
import { Waiting } from '../parts/States.js'
import { changeHands, letIn, type Before } from '../store/access.js'
import { wordsOf } from '../store/api.js'
import { PairTablet } from './PairTablet.js'
import { SignIn } from './SignIn.js'
import { STANDING } from './standing.js'

/** Stands before the work on a tablet of the network: it is let in once, and whoever takes it up signs in. */
export function Gate({ before }: { before: Before }) {
  const client = useQueryClient()
  const { pathname } = useLocation()
  const navigate = useNavigate()
  const { data, error, refetch } = useQuery({ ...STANDING, gcTime: 0 })
  const keep = (standing: Standing): void => void client.setQueryData(STANDING.queryKey, standing)
  const come = (standing: Standing): void => {
    keep(standing)
    letIn(standing)
    if (pathname === '/pair') void navigate('/', { replace: true })
  }
  const title = !data ? 'Who is there' : data.paired ? 'Who works on this tablet' : 'Let this tablet in'
  return (
    <Radix.Root open>
      <Radix.Portal>
        <Radix.Content
          aria-describedby={undefined}
          onEscapeKeyDown={() => changeHands(false)}
          onPointerDownOutside={(e) => e.preventDefault()}
          className="fixed inset-0 z-50 overflow-auto bg-face p-gap text-ink focus:outline-none narrow:p-16"
        >
          <div className="mx-auto grid max-w-760 gap-20">
            <Radix.Title className="border-b-2 border-b-ink pb-10 text-name font-semibold">{title}</Radix.Title>
            {data?.here ? (
              <p>Nobody signs in on the shop’s computer itself.</p>
            ) : data?.paired ? (
              <SignIn people={data.people} me={data.me} onIn={come} />
            ) : data ? (
              <PairTablet onIn={keep} />
            ) : error ? (
              <>
                <p className="wrong">{wordsOf(error)}</p>
                <button type="button" className="act strong justify-self-start" onClick={() => void refetch()}>
                  try again
                </button>
              </>
            ) : (
              <Waiting what="who works here" />
            )}
            {before === 'change' && (
              <button type="button" className="act justify-self-start" onClick={() => changeHands(false)}>
                go on as before
              </button>
            )}
          </div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
