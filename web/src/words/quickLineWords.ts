/** The words of a quick line, as the help sheet tells them; the whole grammar is in docs/formats.md. */
export const quickLineWords: [string, string][] = [
  ['core +135', 'a knob by its key or name, then its value; knobs left out stay as in the last run'],
  ['stock', 'knobs left out stand at stock instead'],
  [
    'gorge',
    'the workload: the start of any word of its name or of its options; several words where one title stands there with several options',
  ],
  ['shadow 1440 ray', 'name and options together'],
  ['8421', 'the result, in the workload’s unit; point or comma'],
  ['72c 212w 1.05v', 'highest temperature, power, voltage reached'],
  ['own cables wall', 'where power was measured'],
  ['2475mhz memclock 9900', 'core clock and memory clock reached'],
  ['avg 105 min 75 max 130', 'frame rate: average (the result), lowest, highest; min alone may be minutes and is asked about'],
  ['1% 84  0.1% 61  low 84', '1 % and 0.1 % low'],
  ['12min 1.5h 90sec', 'how long it ran'],
  ['room 24 noise 38 41dB fan 60 1450rpm', 'room temperature, noise in dB(A), fan in % or rpm'],
  ['ok odd closed down nostart rail stopped lost', 'how it ended; always needed. A failure needs no workload'],
  ['# words', 'a note, to the end of the line'],
]
