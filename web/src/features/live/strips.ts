/** Which strips a live run is drawn in, in the order in which a person at a bench looks at them. */
import type { SafetyLimit } from '../../api/live'
import { registry } from '../../api/registry'
import type { Points } from './useLiveStream'

export interface Strip {
  name: string
  unit: string
  channels: Points[]
  safetyLimits: number[]
  first: boolean
}

/** Up to this rank a quantity's strip is always in sight; the rest unfolds. */
const LAST_IN_SIGHT = 6

/** One strip a quantity; one a channel where channels cannot share a scale. */
export function stripsOf(points: Points[], safetyLimits: SafetyLimit[]): Strip[] {
  const found: Strip[] = []
  for (const { quantity, live, own_scale } of registry.value.live) {
    const channels = points.filter((channel) => channel.quantity === quantity)
    const groups = own_scale ? channels.map((channel) => [channel]) : channels.length ? [channels] : []
    groups.forEach((group, index) => {
      found.push({
        name: index === 0 ? quantity : group[0]!.name,
        unit: group[0]!.unit,
        channels: group,
        safetyLimits: safetyLimits
          .filter((safetyLimit) => watches(safetyLimit, quantity, group, index === 0))
          .map((safetyLimit) => safetyLimit.limit),
        first: live <= LAST_IN_SIGHT && index === 0,
      })
    })
  }
  return found
}

/** The same rule as the core's: a safety limit without a channel watches all, and of several powers the first. */
function watches(safetyLimit: SafetyLimit, quantity: string, group: Points[], isFirst: boolean): boolean {
  if (registry.value.limits.find((one) => one.kind === safetyLimit.kind)?.quantity !== quantity) return false
  if (safetyLimit.channel) return group.some((channel) => channel.name.toLowerCase() === safetyLimit.channel!.toLowerCase())
  return quantity !== 'power' || isFirst
}
