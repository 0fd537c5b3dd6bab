/** What the program declares: outcomes, quantities, roles, goals and the like. It changes only with another version. */
import { computed, shallowRef } from 'vue'

import { answered, client, type Schemas } from './client'

export type Registry = Schemas['Registry']
export type Outcome = Schemas['OutcomeFacts']['outcome']
export type OutcomeFacts = Schemas['OutcomeFacts']
export type QuantityWords = Schemas['QuantityWords']
export type FigureWords = Schemas['FigureWords']

/** Empty until the server has answered; what reads it is drawn again then. */
const EMPTY: Registry = {
  figures: [],
  quantities: [],
  live: [],
  parts: [],
  statistics: [],
  instrument_kinds: [],
  trusts: [],
  roles: [],
  outcomes: [],
  goals: [],
  approaches: [],
  limits: [],
  journal_kinds: [],
  quick_line: [],
  candidates: 0,
}
export const registry = shallowRef<Registry>(EMPTY)

const RETRY_MS = 2_000

/** Asks until the server answers. Called once, when the program starts. */
export async function loadRegistry(): Promise<void> {
  try {
    registry.value = await answered(client.GET('/api/registry'))
  } catch {
    setTimeout(() => void loadRegistry(), RETRY_MS)
  }
}

export const outcomes = computed(() => registry.value.outcomes)

/** An outcome's name, meaning and whether the setting failed. */
export const outcomeFacts = (outcome: Outcome): OutcomeFacts =>
  outcomes.value.find((one) => one.outcome === outcome) ?? {
    outcome,
    key: '',
    short: outcome,
    meaning: '',
    failed: false,
    steps_back: 0,
    line_word: '',
    said_as: [],
  }

/** The unit of a quantity of figures. */
export const unitOf = (quantity: string): string => registry.value.quantities.find((one) => one.quantity === quantity)?.unit ?? ''
