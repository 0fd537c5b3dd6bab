/** Trelvo's own words. */
export const terms: [string, string][] = [
  ['Rig', 'The machine being tuned.'],
  [
    'Build',
    'How a rig is put together at one time: parts, driver, firmware, system, cooling, enclosure. It is never changed, only followed by the next.',
  ],
  ['Specimen', 'One physical chip or card, with its own luck.'],
  ['Campaign', 'One tuning effort on one rig towards one goal.'],
  ['Knob', 'Something that can be set, with its unit, stock value, smallest step and range.'],
  ['Setting', 'One value for every knob.'],
  ['Workload', 'A benchmark, title, stress test or everyday task; the same one on every rig.'],
  [
    'Options',
    'What a workload is run with: resolution, preset, techniques. One set of options is a variant, compared only with itself.',
  ],
  ['Figure', 'One number of a run: quantity, part, statistic, and the instrument that read it.'],
  ['Instrument', 'Where a reading was taken: the part’s own report, a clamp, a meter at the wall.'],
  ['Side', 'One of the things compared: rig, build, setting and options, from any campaign.'],
  ['Test suite', 'The workloads that a proof asks for; some may be there for the proof alone.'],
  ['Edge', 'Where failures reach one an hour; margin is the distance below it.'],
  ['Hold line', 'The furthest value that fails no more often than you accept, as sure as you want to be.'],
  ['Kept setting', 'A setting kept for use, with what it rests on as it was on that day.'],
  ['Journal', 'What changed or went wrong on a rig outside runs.'],
  ['Run', 'One workload at one setting, with conditions, outcome and numbers.'],
  ['Safety limit', 'A limit that stops a run.'],
  [
    'Simulator',
    'The simulated bench that ships with Trelvo: invented silicon that heats, throttles and fails, so that nothing real need be at risk.',
  ],
  ['Bench', 'Whatever sends readings of a run: the simulator, or the agent on a real machine.'],
  ['Set aside', 'Left out of every mean, with a reason; it stays in the log and can be undone.'],
]
