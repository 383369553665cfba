/** @jest-environment jsdom */
import { describe, expect, it, jest } from '@jest/globals'
import '../test/browser.js'
import { undoStack, type Undo } from './undo.js'

type Module = typeof import('./settings.js')
async function fresh(): Promise<Module> {
  jest.resetModules()
  return (await import('./settings.js')) as Module
}

describe('settings of this device', () => {
  it('hold after a reload, each apart from the others', async () => {
    const first = await fresh()
    first.changeSettings({ technician: 'Runa' })
    first.changeSettings({ theme: 'night' })
    expect(document.documentElement.dataset.theme).toBe('night')
    expect((await fresh()).technician()).toBe('Runa')
  })
  it('a store that is spoilt begins with what is usual', async () => {
    localStorage.setItem('uvula-settings', '{not json')
    expect((await fresh()).technician()).toBe('Technician')
  })
  it('a browser that keeps nothing still shows what was chosen', async () => {
    const settings = await fresh()
    const set = jest.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new Error('full')
    })
    settings.changeSettings({ technician: 'Ebbe' })
    set.mockRestore()
    expect(settings.technician()).toBe('Ebbe')
  })
})

describe('taking back', () => {
  const of = (id: string, noun: Undo['noun'] = 'readings'): Undo => ({
    noun,
    id,
    data: { visitId: 'v', caution: 'hot' },
  })
  const back = (visit: string): string[] => {
    const taken: string[] = []
    undoStack.pop(visit, (u) => {
      taken.push(u.id)
      // what taking back writes is no new step
      undoStack.push(visit, of('again'))
    })
    return taken
  }
  it('newest first, each visit apart, until nothing is left', () => {
    undoStack.push('a', of('1'))
    undoStack.push('a', of('2'))
    undoStack.push('b', of('3'))
    expect([back('a'), back('a'), back('a'), back('b')]).toEqual([['2'], ['1'], [], ['3']])
  })
  it('what cannot be taken back by writing again is not offered', () => {
    for (const noun of ['reports', 'recordings', 'photos', 'runs', 'timers'] as const)
      undoStack.push('c', of('x', noun))
    expect(undoStack.depth('c')).toBe(0)
  })
  it('holds the last fifty', () => {
    for (let i = 0; i < 60; i++) undoStack.push('d', of(String(i)))
    expect(undoStack.depth('d')).toBe(50)
    expect(back('d')).toEqual(['59'])
  })
})
