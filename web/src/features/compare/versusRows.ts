/** The comparison as rows, for the screen, for CSV and for Markdown alike. */
import type { Campaign } from '../../api/campaigns'
import type { Cell, Side, Verdict, Versus } from '../../api/compare'
import type { Comparison } from '../../api/ladder'
import { gain, number, plain } from '../../ui/words/format'

export interface VersusRow {
  kind: 'reference' | 'candidate' | 'target' | 'overall'
  workload: string
  options: string
  unit: string
  title: string
  fullTitle?: string
  sentence?: string
  settingId?: number
  targetId?: number
  side?: Side
  comparison?: Comparison | null
  /** The verdict in a word, or the goal's condition that is in its place. */
  answer?: string
  efficiencyRatio?: number | null
  value?: number
  ratio?: number
  note: string
}

const answerOf = (kept: Versus['candidates'][number]['kept_speed'] | undefined, verdict: Verdict | null): string | undefined =>
  kept ? `${kept.name.text}: ${kept.state}` : verdict?.word

export function versusRows(versus: Versus, campaign: Campaign): VersusRow[] {
  const rows: VersusRow[] = []
  const weighted = campaign.workloads.some((workload) => (campaign.weights[String(workload.id)] ?? 1) !== 1)
  for (const candidate of versus.candidates)
    rows.push({
      kind: 'overall',
      workload: 'Overall',
      unit: '',
      title: candidate.short,
      settingId: candidate.setting_id,
      options: `geometric mean of ratios${weighted ? ', with your weights' : ''}`,
      comparison: candidate.column.overall,
      answer: answerOf(candidate.kept_speed, candidate.column.overall_verdict),
      note: '',
    })
  campaign.workloads.forEach((workload, index) => {
    const base = { workload: workload.name, options: workload.options_in_words, unit: workload.unit }
    rows.push({
      ...base,
      kind: 'reference',
      title: `${versus.reference_title}, the reference`,
      side: versus.reference[index],
      note: '',
    })
    for (const candidate of versus.candidates) {
      const cell = candidate.column.cells[index] as Cell
      rows.push({
        ...base,
        kind: 'candidate',
        title: candidate.short,
        fullTitle: candidate.title,
        sentence: cell.sentence.text,
        settingId: candidate.setting_id,
        side: cell.side,
        comparison: cell.comparison,
        answer: answerOf(candidate.kept_speeds[index], cell.verdict),
        efficiencyRatio: cell.efficiency_ratio,
        note: cell.note?.text ?? '',
      })
    }
    for (const target of versus.targets) {
      const told = target.cells.find((cell) => cell.workload_id === workload.id)
      if (!told) continue
      const closed = versus.candidates.flatMap((candidate) => {
        const gap = told.closed[String(candidate.side)]
        if (!gap) return []
        const range = gap.low != null && gap.high != null ? ` (${number(gap.low * 100, 0)} to ${number(gap.high * 100, 0)})` : ''
        return [`${candidate.short} ${number(gap.share * 100, 0)} %${range}`]
      })
      rows.push({
        ...base,
        kind: 'target',
        title: target.name,
        targetId: target.target_id,
        value: told.value,
        ratio: told.ratio,
        note:
          money(target, workload.id === campaign.workloads[0]?.id, campaign) +
          (closed.length ? `Gap closed: ${closed.join('; ')}.` : 'The gap is inside the noise, or leads downwards.'),
      })
    }
  })
  return rows
}

/** What a target asks for its performance on the main workload, where prices are known. */
function money(target: Versus['targets'][number], isMain: boolean, campaign: Campaign): string {
  if (!isMain || !target.value) return ''
  const unit = campaign.workloads[0]?.unit ?? ''
  const last = target.value.last_unit
  const more = last == null ? '' : `; every ${unit} more than the first candidate gives costs ${plain(last)}`
  return `${plain(target.value.per_unit)} ${campaign.currency} for each ${unit}${more}. `
}

/** Fairness and build in a few words. */
export const fairWords = (candidate: Versus['candidates'][number], versus: Versus): string =>
  `${candidate.fairness.grade === 'fair' ? 'Fair' : candidate.fairness.grade === 'not fair' ? 'Not fair' : 'Fair with reservations'}, ` +
  (!(candidate.fairness.grade === 'not fair' && candidate.rig_name !== versus.reference_rig_name) &&
  candidate.fairness.aspects.some((aspect) => aspect.state === 'studied')
    ? `what is compared: ${candidate.fairness.aspects
        .filter((aspect) => aspect.state === 'studied')
        .map((aspect) => aspect.name.toLowerCase())
        .join(', ')}.`
    : candidate.rig_name !== versus.reference_rig_name
      ? 'another rig, see the reasons.'
      : versus.reference_build_number === candidate.build_number
        ? 'same build.'
        : `build ${versus.reference_build_number} against ${candidate.build_number}.`)

/** The comparison for a forum or a note: one table, then every result as a sentence. */
export function asMarkdown(versus: Versus, rows: VersusRow[]): string {
  const cell = (text: string): string => text.replaceAll('|', '\\|')
  const table = rows.map((row) => {
    const mean = row.side?.summary?.mean ?? row.value
    const ratio = row.comparison?.ratio ?? row.ratio
    const interval =
      row.comparison?.low != null && row.comparison.high != null
        ? `${gain(row.comparison.low)} to ${gain(row.comparison.high)}`
        : ''
    const watts = row.side?.power.mean_w
    return [
      row.workload,
      row.title,
      mean == null ? '' : `${plain(mean)} ${row.unit}`,
      ratio == null ? '' : gain(ratio),
      interval,
      row.answer ?? '',
      watts == null ? '' : `${number(watts, 0)} W`,
    ]
      .map(cell)
      .join(' | ')
  })
  const sentences = versus.candidates.flatMap((candidate) => [
    `\n**${candidate.title}** against ${versus.reference_title}: ${candidate.column.overall_sentence.text} ${fairWords(candidate, versus)}`,
    ...candidate.column.cells.map((one) => `- ${one.sentence.text}`),
  ])
  return [
    '| Workload | Setting | Mean | Gain | 95 % interval | Verdict | Power |',
    '|---|---|---|---|---|---|---|',
    ...table.map((line) => `| ${line} |`),
    ...sentences,
    '',
  ].join('\n')
}
