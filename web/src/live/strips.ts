/** Which strips a live run is drawn in, in the order in which a person at a bench looks at them. */
import type { Rail } from '../api/live'
import type { Points } from './useLiveStream'

export interface Strip {
  name: string
  unit: string
  channels: Points[]
  rails: number[]
  first: boolean
}

/** Always in sight; the rest unfolds. */
const FIRST = ['core clock', 'temperature', 'power', 'voltage', 'frame time', 'fan']
const REST = ['current', 'load', 'frame rate', 'memory clock', 'fan speed', 'other']

/** Different measuring points, or different chips: they never share a scale. */
const APART = ['power', 'core clock']

/** Kind of the guard rail that watches a quantity. */
const RAIL_OF: Record<string, string> = {
  temperature: 'temperature',
  power: 'power',
  current: 'current',
  voltage: 'voltage',
  fan: 'fan floor',
}

/** One strip a quantity; one a channel where channels cannot share a scale. */
export function stripsOf(points: Points[], rails: Rail[]): Strip[] {
  const found: Strip[] = []
  for (const quantity of [...FIRST, ...REST]) {
    const channels = points.filter((channel) => channel.quantity === quantity)
    const groups = APART.includes(quantity) ? channels.map((channel) => [channel]) : channels.length ? [channels] : []
    groups.forEach((group, index) => {
      found.push({
        name: index === 0 ? quantity : group[0]!.name,
        unit: group[0]!.unit,
        channels: group,
        rails: rails.filter((rail) => watches(rail, quantity, group, index === 0)).map((rail) => rail.limit),
        first: FIRST.includes(quantity) && index === 0,
      })
    })
  }
  return found
}

/** The same rule as the core's: a rail without a channel watches all, and of several powers the first. */
function watches(rail: Rail, quantity: string, group: Points[], isFirst: boolean): boolean {
  if (RAIL_OF[quantity] !== rail.kind) return false
  if (rail.channel) return group.some((channel) => channel.name.toLowerCase() === rail.channel!.toLowerCase())
  return quantity !== 'power' || isFirst
}
