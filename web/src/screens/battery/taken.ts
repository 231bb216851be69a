import type { BatteryReading } from '../../api/client'

/** What can be entered of a battery. */
export type Taken = BatteryReading | 'label' | 'charged' | 'drain'
