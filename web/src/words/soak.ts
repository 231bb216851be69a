import type { SoakEntry, SoakView, Trigger } from '../api/client'
import CODES from './codes.json'
import { percent } from './numbers'
import { time } from './battery'

export const TRIGGERS: { [trigger in Trigger]: string } = CODES.soak_triggers

/** "1:04:09", "24:31" */
export function onTheClock(seconds: number): string {
  const whole = Math.max(Math.floor(seconds), 0)
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60]
  const two = (n: number) => `${n}`.padStart(2, '0')
  return h ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`
}

/** What is left until how sure: "95% sure it’s gone: 47 min to go". */
export function goalWords(goal: NonNullable<SoakView['standing']>['goals'][number]): string {
  const left = goal.left > 0 ? `${time(goal.left / 60)} to go` : 'reached'
  return `${percent(goal.sure)} sure it’s gone: ${left}`
}

export function soakEntry(entry: SoakEntry): string {
  switch (entry.kind) {
    case 'began':
      return `Started. Told: ${entry.told.times} times in ${entry.told.hours} h`
    case 'trigger':
      return `${TRIGGERS[entry.trigger]}: ${entry.on ? 'on' : 'off'}`
    case 'failed':
      return entry.note ? `It happened. ${entry.note}` : 'It happened'
    case 'paused':
      return 'Clock stopped'
    case 'resumed':
      return 'Clock on again'
    case 'taken-off':
      return `${entry.minutes} min taken off`
    case 'ended':
      return 'Ended'
  }
}
