import { afterEach, expect, test } from '@jest/globals'
import { remember, remembered } from '../src/ui/cookies'

const forget = (name: string) => (document.cookie = `gavrin.${name}=; max-age=0; path=/`)
afterEach(() => ['class', 'zone'].forEach(forget))

test('what is remembered is read again, and nothing else', () => {
  expect(remembered('class')).toBeNull()
  remember('class', 'a b;c=d')
  remember('zone', 'Pacific/Auckland')
  expect(remembered('class')).toBe('a b;c=d')
  expect(remembered('zone')).toBe('Pacific/Auckland')
  expect(remembered('lass')).toBeNull()
})

test('what somebody else wrote there breaks no page', () => {
  document.cookie = 'gavrin.class=%; path=/'
  expect(remembered('class')).toBeNull()
  remember('class', 'k')
  expect(remembered('class')).toBe('k')
})
