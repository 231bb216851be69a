/** Made-up answers of the server, as small as a test needs them. */
import type {
  Control,
  DiagnosisView,
  ElementView,
  JobState,
  JobView,
  PieceView,
  PointView,
  TestView,
  TraceView,
  TrackPoint,
} from '../src/api/client'

export const key: Control = {
  id: 'key',
  name: 'Key',
  letter: 'k',
  rest: 'off',
  positions: [
    { id: 'off', name: 'off' },
    { id: 'run', name: 'run' },
    { id: 'start', name: 'START', returns_to: 'run' },
  ],
} as Control

export const pedal: Control = {
  id: 'pedal',
  name: 'Pedal',
  letter: 'p',
  rest: 'up',
  positions: [
    { id: 'up', name: 'up' },
    { id: 'down', name: 'down' },
  ],
} as Control

export function point(terminal: string, name = terminal): PointView {
  return { terminal, name, short: terminal, place: 'dash', colors: [] }
}

export function trackPoint(node: number, more: Partial<TrackPoint> = {}): TrackPoint {
  return { node, point: point(`t.${node}`), stands: 'supply', major: true, ...more }
}

export function element(
  role: ElementView['role'],
  from: number,
  to: number,
): ElementView & { kind: 'element' } {
  const id = `${role}-${from}-${to}`
  return {
    kind: 'element',
    id,
    role,
    name: id,
    from,
    to,
    made: true,
    stands: 'supply',
    suspicion: 0,
  }
}

export function trace(track: PieceView[], points: TrackPoint[]): TraceView & { shape: 'track' } {
  return {
    shape: 'track',
    circuit: 'start',
    should: { crank: 'yes' } as TraceView['should'],
    supply_volts: 12.6,
    track,
    points,
    cautions: ['may-crank'],
  }
}

export function measured(red: string, more: Partial<TestView> = {}): TestView {
  return {
    condition: { key: 'start' },
    engine: 'stopped',
    set_up: [],
    put_back: [],
    action: {
      kind: 'measure',
      instrument: 'voltmeter',
      red: point(red),
      black: point('battery.-'),
    },
    minutes: 1,
    bits: 1,
    why: 'splits',
    answers: [],
    cautions: [],
    ...more,
  }
}

export function diagnosis(tests: TestView[]): DiagnosisView {
  return { tests, suspects: [], judgements: [], condition: {} } as unknown as DiagnosisView
}

export function state(entries: number, circuit = 'start'): JobState {
  const job = {
    mark: `mark-${entries}`,
    controls: [key, pedal],
    evidence: Array.from({ length: entries }, (_, i) => ({ id: String(i), entry: {} })),
    circuits: [],
  } as unknown as JobView
  return {
    job,
    follows: {
      condition: { key: 'start', pedal: 'down' },
      engine: 'stopped',
      drawn: { ...trace([], []), circuit },
      diagnosis: diagnosis([measured(`after.${entries}`)]),
    },
  }
}
