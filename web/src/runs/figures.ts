/** A run's figures by field: what each is called, its unit, and how many decimals it carries. */
export interface FigureWords {
  field: 'value' | 'low_1_fps' | 'low_01_fps' | 'duration_s' | 'power_w' | 'temp_max_c' | 'temp_mean_c' | 'core_mhz' | 'memory_mhz' | 'voltage_v' | 'room_c'
  name: string
  unit: string
  decimals: number
}

export const figureWords: FigureWords[] = [
  { field: 'value', name: 'Result', unit: '', decimals: 2 },
  { field: 'low_1_fps', name: '1 % low', unit: 'fps', decimals: 2 },
  { field: 'low_01_fps', name: '0.1 % low', unit: 'fps', decimals: 2 },
  { field: 'duration_s', name: 'Lasted', unit: 's', decimals: 1 },
  { field: 'power_w', name: 'Mean power', unit: 'W', decimals: 1 },
  { field: 'temp_max_c', name: 'Highest temperature', unit: '°C', decimals: 1 },
  { field: 'temp_mean_c', name: 'Mean temperature', unit: '°C', decimals: 1 },
  { field: 'core_mhz', name: 'Core clock reached', unit: 'MHz', decimals: 0 },
  { field: 'memory_mhz', name: 'Memory clock reached', unit: 'MHz', decimals: 0 },
  { field: 'voltage_v', name: 'Voltage reached', unit: 'V', decimals: 3 },
  { field: 'room_c', name: 'Room', unit: '°C', decimals: 1 },
]
