import { describe, expect, it } from 'vitest'

import type { Campaign } from '../api/campaigns'
import type { Versus } from '../api/compare'
import { asMarkdown, versusRows } from '../features/compare/versusRows'

const side = (mean: number) => ({
  summary: { n: 3, mean, median: mean, sd: 0.2, cv: 0.002, low: mean - 1, high: mean + 1, confidence: 0.95 },
  power: { mean_w: 180, point: 'software', mixed: false, n: 3 },
  efficiency: null,
  temp_max_c: 60,
  over_room_c: 36,
  low_1_fps: null,
  low_01_fps: null,
  core_mhz: null,
  memory_mhz: null,
})
const comparison = {
  ratio: 1.05,
  low: 1.04,
  high: 1.06,
  error_log: 0.004,
  df: 6,
  p: 0.001,
  sd_log: 0.005,
  basis: 'pooled noise',
  n_reference: 3,
  n_candidate: 3,
  confidence: 0.95,
}
const said = (text: string) => ({ code: 'a_code', params: {}, text })
const verdict = { word: 'gain', reason: said('The whole interval lies above the reference.'), more_runs: 0 }
const cell = (workload_id: number) => ({
  workload_id,
  side: side(98),
  comparison,
  verdict,
  adjusted_p: null,
  watts_saved: 5,
  efficiency_ratio: 1.07,
  scaling: null,
  note: null,
  sentence: said(`+5.0 % ± 1.0 on ${workload_id}: a gain; 6 runs.`),
})

const campaign = {
  workloads: [
    { id: 1, name: 'Gorge | night', options: {}, options_in_words: '4K', unit: 'fps', measure: 'frame rate' },
    { id: 2, name: 'Render', options: {}, options_in_words: '', unit: 's', measure: 'time' },
  ],
  weights: { 1: 2 },
  currency: 'crowns',
} as unknown as Campaign

const versus = {
  build_number: 2,
  reference_build_number: 2,
  reference_id: 1,
  reference_title: 'stock',
  reference: [side(93), side(118)],
  common: '',
  candidates: [
    {
      side: 1,
      key: '7',
      setting_id: 7,
      build_number: 2,
      title: 'core +90 MHz',
      short: 'core +90 MHz',
      kept_speed: null,
      kept_speeds: [null, { name: said('at least 99 % of stock’s speed'), state: 'not shown yet', says: said('99.4 %.') }],
      fairness: { grade: 'with reservations', aspects: [] },
      column: {
        cells: [cell(1), cell(2)],
        overall: comparison,
        overall_verdict: verdict,
        overall_sentence: said('+5.0 % ± 1.0 overall: a gain.'),
      },
    },
  ],
  targets: [
    {
      target_id: 3,
      name: 'Next model',
      price: 330,
      source: '',
      conditions: '',
      value: { per_unit: 3.06, last_unit: 15.3 },
      cells: [
        { workload_id: 1, value: 108, ratio: 1.16, closed: { 1: { share: 0.31, low: 0.25, high: 0.38, gap: 1.16 } } },
        { workload_id: 2, value: 117, ratio: 1.009, closed: { 1: null } },
      ],
    },
  ],
} as unknown as Versus

describe('the comparison as rows', () => {
  const rows = versusRows(versus, campaign)

  it('starts with the overall row, then a block a workload', () => {
    expect(rows.map((row) => `${row.kind} ${row.workload}`)).toEqual([
      'overall Overall',
      'reference Gorge | night',
      'candidate Gorge | night',
      'target Gorge | night',
      'reference Render',
      'candidate Render',
      'target Render',
    ])
    expect(rows[0]?.options).toContain('with your weights')
  })

  it('says how much of the gap each candidate closes, or that there is none', () => {
    expect(rows[3]?.note).toBe(
      '3.06 crowns for each fps; every fps more than the first candidate gives costs 15.30. Gap closed: core +90 MHz 31 % (25 to 38).',
    )
    expect(rows[6]?.note).toContain('inside the noise')
  })

  it('answers by the goal’s condition on speed where there is one, else by the verdict', () => {
    const answers = rows.filter((row) => row.kind === 'candidate' || row.kind === 'overall').map((row) => row.answer)
    expect(answers).toEqual(['gain', 'gain', 'at least 99 % of stock’s speed: not shown yet'])
  })

  it('copies as Markdown with every sentence, and no bar breaks the table', () => {
    const text = asMarkdown(versus, rows)
    const lines = text.split('\n')
    expect(lines[0]).toBe('| Workload | Setting | Mean | Gain | 95 % interval | Verdict | Power |')
    expect(lines[2]).toContain('Overall | core +90 MHz |  | +5.0 % | +4.0 % to +6.0 % | gain')
    expect(lines[3]).toContain('Gorge \\| night')
    expect(text).toContain('**core +90 MHz** against stock: +5.0 % ± 1.0 overall: a gain. Fair with reservations, same build.')
    expect(text).toContain('- +5.0 % ± 1.0 on 2: a gain; 6 runs.')
  })
})
