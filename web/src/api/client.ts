import createClient from 'openapi-fetch'
import { patientFetch } from './patience'
import type { components, paths } from './schema'

type Schemas = components['schemas']
export type JobSummary = Schemas['JobSummary']
export type JobView = Schemas['JobView']
export type MachineView = Schemas['MachineView']
export type Control = Schemas['Control']
export type CircuitView = Schemas['CircuitView']
export type LadderView = Schemas['LadderView']
export type CircuitName = Schemas['CircuitName']
export type MachineDetail = Schemas['MachineDetail']
export type Edit = Schemas['Edit']
export type Edits = Schemas['Edits']
export type EditedContact = Schemas['EditedContact']
export type EditedPart = Schemas['EditedPart']
export type EditedTerminal = Schemas['EditedTerminal']
export type EditedView = Schemas['EditedView']
export type EditedWire = Schemas['EditedWire']
export type PlacedProblem = Schemas['PlacedProblem']
export type ConditionView = Schemas['ConditionView']
export type Engine = Schemas['Engine']
export type FoundView = Schemas['FoundView']
export type LogicView = Schemas['LogicView']
export type Decides = Schemas['Decides']
export type DutyView = Schemas['DutyView']
export type TableRow = Schemas['TableRow']
export type SnapshotView = Schemas['SnapshotView']
export type WireView = Schemas['WireView']
export type ReasonView = Schemas['ReasonView']
export type ContactView = Schemas['ContactView']
export type ComparisonView = Schemas['ComparisonView']
export type HarnessView = Schemas['HarnessView']
export type PartView = Schemas['PartView']
export type PortView = Schemas['PortView']
export type RunView = Schemas['RunView']
export type EndView = Schemas['EndView']
export type FaultSheetView = Schemas['FaultSheetView']
export type FaultRowView = Schemas['FaultRowView']
export type CheckedDocument = Schemas['CheckedDocument']
export type DescribedView = Schemas['DescribedView']
export type QuestionView = Schemas['QuestionView']
export type HarnessTraceView = Schemas['HarnessTraceView']
export type RecordTrace = Schemas['RecordTrace']
export type FoundOfHarness = Schemas['FoundOfHarness']
export type TraceEnd = Schemas['TraceEnd']
export type TraceEntryView = Schemas['TraceEntryView']
export type TraceFindingView = Schemas['TraceFindingView']
export type LinkStateCode = Schemas['LinkStateCode']
export type LinkView = Schemas['TraceLinkView']
export type OffView = Schemas['TakenOffView']
export type TraceStepView = Schemas['TraceStepView']
export type WaysView = Schemas['WaysView']
export type Reference = Schemas['Reference']
export type Stands = Schemas['Stands']
export type TraceView = Schemas['TraceView']
export type PieceView = Schemas['PieceView']
export type ElementView = Schemas['ElementView']
export type TrackPoint = Schemas['TrackPoint']
export type PointView = Schemas['PointView']
export type JobState = Schemas['JobState']
export type Recorded = Schemas['Recorded']
export type LostView = Schemas['LostView']
export type DiagnosisView = Schemas['DiagnosisView']
export type SuspectView = Schemas['SuspectView']
export type WiringView = Schemas['WiringView']
export type OpenWiringView = Schemas['OpenWiringView']
export type TestView = Schemas['TestView']
export type Attend = Schemas['Attend']
export type Strategy = Schemas['Strategy']
export type ForecastView = Schemas['ForecastView']
export type ChoiceView = Schemas['ChoiceView']
export type ExcludedView = Schemas['ExcludedView']
export type MisfitView = Schemas['MisfitView']
export type ExplanationView = Schemas['ExplanationView']
export type StrainView = Schemas['StrainView']
export type CauseView = Schemas['CauseView']
export type SweepView = Schemas['SweepView']
export type MachineSummary = Schemas['MachineSummary']
export type WalkView = Schemas['WalkView']
export type StandView = Schemas['StandView']
export type Sign = Schemas['Sign']
export type LiveView = Schemas['LiveView']
export type Range = Schemas['Listen']['range']
export type UnreadableView = Schemas['UnreadableView']
export type JobsPage = Schemas['JobsPage']
export type MachinesPage = Schemas['MachinesPage']
export type BenchPage = Schemas['BenchPage']
export type Status = Schemas['Status']
export type Work = Schemas['Work']
export type Repair = Schemas['Repair']
export type RepairableView = Schemas['RepairableView']
export type UnderstoodView = Schemas['UnderstoodView']
export type ToldView = Schemas['ToldView']
export type Entry = Schemas['Entry']
export type Observed = Schemas['Observed']
export type Outcome = Schemas['Outcome']
export type BatteryEvent = Schemas['BatteryEvent']
export type AnswerView = Schemas['AnswerView']
export type UnitView = Schemas['UnitView']
export type ConclusionView = Schemas['ConclusionView']
export type EvidenceView = Schemas['EvidenceView']
export type VerdictView = Schemas['VerdictView']
export type SetUpEntry = Schemas['SetUpEntry']
export type SetUpView = Schemas['SetUpView']
export type StillOffView = Schemas['StillOffView']
export type CloseUpEntry = Schemas['CloseUpEntry']
export type CloseUpView = Schemas['CloseUpView']
export type Intended = Schemas['Intended']
export type ForewarnedView = Schemas['ForewarnedView']
export type Instrument = Schemas['Instrument']
export type Heard = Schemas['Heard']
export type SoakView = Schemas['SoakView']
export type SoakEntry = Schemas['SoakEntry']
export type RecordSoak = Schemas['RecordSoak']
export type Trigger = Schemas['Trigger']
export type DropsView = Schemas['DropsView']
export type FusesView = Schemas['FusesView']
export type ChargingView = Schemas['ChargingView']
export type LoadsView = Schemas['LoadsView']
export type BatteryView = Schemas['BatteryView']
export type BatteryTest = Schemas['BatteryTest']
export type BatteryReading = Schemas['BatteryReading']
export type BatteryState = Schemas['BatteryState']
export type Chemistry = Schemas['Chemistry']
export type ReleaseView = Schemas['ReleaseView']
export type ReleaseStep = Schemas['ReleaseStepView']
export type ReleaseEntry = Schemas['ReleaseEntry']
export type RecordRelease = Schemas['RecordRelease']
export type Saw = Schemas['Saw']
export type Record = Schemas['Record']
export type Problem = Schemas['Problem']
export type FaultMode = Schemas['FaultMode']
export type FaultSize = Schemas['FaultSize']
export type PartKind = Schemas['PartKind']
export type FaultEffect = Schemas['FaultEffect']
export type Symptom = Schemas['Symptom']
export type When = Schemas['When']
export type SymptomsView = Schemas['SymptomsView']
export type TellingView = Schemas['TellingView']
export type Caution = Schemas['Caution']
export type Danger = Schemas['Danger']
export type OwnTest = Schemas['OwnTest']
export type OwnTestView = Schemas['OwnTestView']
export type BenchView = Schemas['BenchView']
export type CellView = Schemas['CellView']
export type CellStand = Schemas['CellStand']
export type FindingView = Schemas['FindingView']
export type FindingKind = Schemas['FindingKind']
export type Consequence = Schemas['Consequence']
export type NextView = Schemas['NextView']
export type OperatedView = Schemas['OperatedView']
export type ProfileView = Schemas['ProfileView']
export type ProfileDocument = Schemas['ProfileDocument']
export type SwitchFunction = Schemas['SwitchFunction']
export type SwitchKind = Schemas['SwitchKind']
export type SwitchSummary = Schemas['SwitchSummary']
export type SwitchVerdict = Schemas['SwitchVerdict']
export type LinkageVerdict = Schemas['LinkageVerdict']
export type MachineSwitch = Schemas['MachineSwitch']
export type SeenAtBench = Schemas['SeenAtBench']
export type RecordAtBench = Schemas['RecordAtBench']
export type TravelView = Schemas['TravelView']
export type WirePlanView = Schemas['WirePlanView']
export type Unfit = Schemas['Unfit']
export type Subject = Schemas['Subject']
export type Terminal = Schemas['SwitchTerminal']
export type SwitchPosition = Schemas['SwitchPosition']
export type PoleView = Schemas['PoleView']
export type BenchLogView = Schemas['BenchLogView']
export type CellGrade = Schemas['CellGrade']
export type Ignition = Schemas['Ignition']
export type RevisionView = Schemas['RevisionView']
export type DifferenceView = Schemas['DifferenceView']
/** Control id -> position id. */
export type Condition = { [control: string]: string }

const client = createClient<paths>({ baseUrl: '/', fetch: patientFetch })

/** A request that was answered with a problem, or not at all. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem | undefined,
  ) {
    super(problem?.detail ?? 'The server does not answer.')
  }

  /** A problem that is known by its status and what it says. */
  static of(status: number, detail: string): ApiError {
    return new ApiError(status, { status, title: '', detail })
  }

  /** What is wrong, in the sentence about its one field if there is one. */
  get sentence(): string {
    return this.problem?.errors?.[0]?.sentence ?? this.message
  }

  /** Worth sending again just as it was. */
  get passing(): boolean {
    return this.status === 0 || this.status === 503
  }

  /** The sentence about one field, if the problem has one. */
  field(name: string): string | undefined {
    return this.problem?.errors?.find((e) => e.field === name)?.sentence
  }
}

/** What comes in the end: of how far it is, the fetching knows. */
type Done<T> = Exclude<T, Schemas['Progress']>

async function answer<T>(
  request: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<Done<T>> {
  let result
  try {
    result = await request
  } catch (error) {
    // Given up by the page itself: nothing is the matter.
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw new ApiError(0, undefined)
  }
  if (result.data === undefined) {
    throw new ApiError(result.response.status, result.error as Problem | undefined)
  }
  return result.data as Done<T>
}

function set(condition: Condition): string[] {
  return Object.entries(condition).map(([control, position]) => `${control}:${position}`)
}

/** A condition with the engine's state. */
export interface Standing {
  set: Condition
  engine: Engine
}

function asked(at: Standing) {
  return { set: set(at.set), engine: at.engine }
}

/** What of a job is shown; nothing set, nothing chosen: as its last entry has it. */
export interface ShownOfJob {
  at?: Standing | undefined
  circuit?: string | undefined
  strategy: Strategy
}

function shown({ at, circuit, strategy }: ShownOfJob) {
  return { ...(at ? asked(at) : { set: [] }), ...(circuit ? { circuit } : {}), strategy }
}

/** What is wanted in answer to something recorded: what then is shown of the job, or nothing. */
function wanted(of: ShownOfJob | undefined) {
  return of ? { state: true, ...shown(of) } : { set: [] }
}

/** What a part and its fitting cost; what is not said is the machine's or the shop's. */
export interface Costs {
  price?: number
  fit?: number
  rate?: number
}

/** What is wanted of a list: words that all stand in it, and a page from 0. */
export interface Wanted {
  q?: string
  page?: number
}

/** Where a job's story is fetched as a file. */
export function storyAddress(id: string, kind: 'json' | 'csv'): string {
  return `/api/v1/jobs/${id}/story.${kind}`
}

/** Where a switch's readings are fetched as a table. */
export function benchTableAddress(id: string): string {
  return `/api/v1/bench/${id}/table.csv`
}

/** Where a profile is fetched as a file. */
export function profileAddress(id: string): string {
  return `/api/v1/switch-profiles/${encodeURIComponent(id)}`
}

const asText = {
  bodySerializer: (body: unknown) => body as string,
  headers: { 'content-type': 'application/json' },
}

/** What is done in a job that makes a revision of its machine, and who does it. */
const made = (id: string, by: string) => ({ path: { id }, query: { by } })

/** Where a file of a machine is fetched, in a condition where that matters. */
export function exportAddress(name: string, file: string, at?: Standing): string {
  const query = new URLSearchParams(at ? set(at.set).map((s) => ['set', s]) : [])
  if (at) query.set('engine', at.engine)
  const asked = query.toString()
  return `/api/v1/machines/${encodeURIComponent(name)}/${file}${asked ? `?${asked}` : ''}`
}

export const api = {
  jobs: (query: Wanted & { status?: Status; machine?: string }) =>
    answer(client.GET('/api/v1/jobs', { params: { query } })),
  job: (id: string) => answer(client.GET('/api/v1/jobs/{id}', { params: { path: { id } } })),
  openJob: (body: Schemas['OpenJob']) => answer(client.POST('/api/v1/jobs', { body })),
  changeJob: (id: string, body: Schemas['ChangeJob']) =>
    answer(client.PUT('/api/v1/jobs/{id}', { params: { path: { id } }, body })),
  deleteJob: async (id: string) => {
    const { response, error } = await client.DELETE('/api/v1/jobs/{id}', {
      params: { path: { id } },
    })
    if (!response.ok) throw new ApiError(response.status, error as Problem | undefined)
  },
  setStatus: (id: string, body: Schemas['SetStatus']) =>
    answer(client.PUT('/api/v1/jobs/{id}/status', { params: { path: { id } }, body })),
  settleWiring: (id: string, body: Schemas['SettleWiring'], by: string) =>
    answer(client.POST('/api/v1/jobs/{id}/wiring', { params: made(id, by), body })),
  correctDrawing: (id: string, body: Schemas['CorrectDrawing'], by: string) =>
    answer(client.POST('/api/v1/jobs/{id}/drawing', { params: made(id, by), body })),
  /** The job goes on with that revision; an earlier one is the machine's newest again. */
  goToRevision: async (id: string, body: Schemas['BackToRevision'], by: string) => {
    const params = made(id, by)
    const { response, error } = await client.PUT('/api/v1/jobs/{id}/revision', { params, body })
    if (!response.ok) throw new ApiError(response.status, error as Problem | undefined)
  },
  machines: (query: Wanted) => answer(client.GET('/api/v1/machines', { params: { query } })),
  meters: () => answer(client.GET('/api/v1/meter')),
  machine: (name: string) =>
    answer(client.GET('/api/v1/machines/{name}', { params: { path: { name } } })),
  logic: (name: string) =>
    answer(client.GET('/api/v1/machines/{name}/logic', { params: { path: { name } } })),
  /** What a machine can be complained of. */
  symptoms: (name: string) =>
    answer(client.GET('/api/v1/machines/{name}/symptoms', { params: { path: { name } } })),
  /** Reads a customer's sentence; nothing is recorded. */
  readSentence: (name: string, said: string) =>
    answer(
      client.POST('/api/v1/machines/{name}/read', {
        params: { path: { name } },
        body: { said },
      }),
    ),
  machineCircuit: (name: string, circuit: string, at: Standing) =>
    answer(
      client.GET('/api/v1/machines/{name}/circuits/{circuit}', {
        params: { path: { name, circuit }, query: asked(at) },
      }),
    ),
  ways: (name: string, circuit: string, at: Standing) =>
    answer(
      client.GET('/api/v1/machines/{name}/ways', {
        params: { path: { name }, query: { circuit, ...asked(at) } },
      }),
    ),
  snapshot: (name: string, at: Standing) =>
    answer(
      client.GET('/api/v1/machines/{name}/snapshot', {
        params: { path: { name }, query: asked(at) },
      }),
    ),
  compare: (name: string, at: Standing, to: Standing) =>
    answer(
      client.GET('/api/v1/machines/{name}/compare', {
        params: {
          path: { name },
          query: { ...asked(at), to_set: set(to.set), to_engine: to.engine },
        },
      }),
    ),
  harness: (name: string) =>
    answer(client.GET('/api/v1/machines/{name}/harness', { params: { path: { name } } })),
  /** How far a harness is traced; of one circuit, what to measure next of that. */
  harnessTrace: (name: string, circuit?: string) =>
    answer(
      client.GET('/api/v1/machines/{name}/trace', {
        params: { path: { name }, query: { circuit } },
      }),
    ),
  recordTrace: (name: string, body: RecordTrace, circuit?: string) =>
    answer(
      client.POST('/api/v1/machines/{name}/trace/entries', {
        params: { path: { name }, query: { circuit } },
        body,
      }),
    ),
  voidTrace: (name: string, entry: string, body: Schemas['VoidRequest'], circuit?: string) =>
    answer(
      client.POST('/api/v1/machines/{name}/trace/entries/{entry}/void', {
        params: { path: { name, entry }, query: { circuit } },
        body,
      }),
    ),
  keepTrace: (name: string, by: string) =>
    answer(
      client.POST('/api/v1/machines/{name}/trace/keep', {
        params: { path: { name }, query: { by } },
      }),
    ),
  revisions: (name: string) =>
    answer(client.GET('/api/v1/machines/{name}/revisions', { params: { path: { name } } })),
  restoreRevision: (name: string, query: { revision: number; by: string; taken_off: boolean }) =>
    answer(
      client.POST('/api/v1/machines/{name}/revisions', {
        params: { path: { name }, query },
      }),
    ),
  difference: (name: string, from: number, to: number) =>
    answer(
      client.GET('/api/v1/machines/{name}/difference', {
        params: { path: { name }, query: { from, to } },
      }),
    ),
  /** What steps make of a drawing; nothing is kept. */
  reviewEdit: (name: string, body: Edits) =>
    answer(
      client.POST('/api/v1/machines/{name}/edit/review', { params: { path: { name } }, body }),
    ),
  keepEdit: (name: string, body: Edits, query: { by: string; reason: string }) =>
    answer(
      client.POST('/api/v1/machines/{name}/edit', { params: { path: { name }, query }, body }),
    ),
  /** The steps that a wire list comes to. */
  readWireList: (name: string, text: string) =>
    answer(
      client.POST('/api/v1/machines/{name}/edit/wire-list', {
        params: { path: { name } },
        body: text as never,
        ...asText,
      }),
    ),
  faults: (name: string, signal: AbortSignal) =>
    answer(client.GET('/api/v1/machines/{name}/faults', { params: { path: { name } }, signal })),
  keepCondition: (name: string, body: Schemas['KeepCondition']) =>
    answer(client.POST('/api/v1/machines/{name}/conditions', { params: { path: { name } }, body })),
  forgetCondition: (name: string, id: string) =>
    answer(
      client.DELETE('/api/v1/machines/{name}/conditions/{id}', {
        params: { path: { name, id } },
      }),
    ),
  /** The document goes as the text it is, so that every mistake is found where it stands. */
  checkMachine: (text: string) =>
    answer(client.POST('/api/v1/machines/check', { body: text as never, ...asText })),
  /** What a machine of these answers usually is, and what to ask next. */
  describeMachine: (looked: Schemas['Looked']) =>
    answer(client.POST('/api/v1/machines/describe', { body: looked })),
  saveMachine: (text: string, query: { by: string; reason?: string }) =>
    answer(client.POST('/api/v1/machines', { params: { query }, body: text as never, ...asText })),
  reference: () => answer(client.GET('/api/v1/reference')),
  people: () => answer(client.GET('/api/v1/people')),
  trace: (id: string, circuit: string, at: Standing) =>
    answer(
      client.GET('/api/v1/jobs/{id}/trace/{circuit}', {
        params: { path: { id, circuit }, query: asked(at) },
      }),
    ),
  diagnosis: (id: string, condition: Condition, strategy: Strategy) =>
    answer(
      client.GET('/api/v1/jobs/{id}/diagnosis', {
        params: { path: { id }, query: { set: set(condition), strategy } },
      }),
    ),
  /** What a measurement of one's own would tell, and what speaks against it. */
  weigh: (id: string, body: OwnTest) =>
    answer(client.POST('/api/v1/jobs/{id}/own-test', { params: { path: { id } }, body })),
  forewarn: (id: string, body: Intended) =>
    answer(client.POST('/api/v1/jobs/{id}/forewarn', { params: { path: { id } }, body })),
  forecast: (id: string, condition: Condition, costs: Costs, signal: AbortSignal) =>
    answer(
      client.GET('/api/v1/jobs/{id}/forecast', {
        signal,
        params: { path: { id }, query: { set: set(condition), ...costs } },
      }),
    ),
  sweeps: (id: string) =>
    answer(client.GET('/api/v1/jobs/{id}/sweeps', { params: { path: { id } } })),
  bringIn: (body: Schemas['BringIn']) => answer(client.POST('/api/v1/jobs/stories', { body })),
  /** Moves a stand-in's controls and probes; a real meter answers 409. */
  moveStandIn: async (body: Schemas['BringAbout']) => {
    const { response, error } = await client.POST('/api/v1/meter/stand-in', { body })
    if (!response.ok) throw new ApiError(response.status, error as Problem | undefined)
  },
  /** Changes whenever anything of a job does. */
  jobMark: (id: string) =>
    answer(client.GET('/api/v1/jobs/{id}/mark', { params: { path: { id } } })),
  /** Everything about a job in one answer. */
  jobState: (id: string, of: ShownOfJob) =>
    answer(client.GET('/api/v1/jobs/{id}/state', { params: { path: { id }, query: shown(of) } })),
  record: (id: string, body: Record, of?: ShownOfJob) =>
    answer(
      client.POST('/api/v1/jobs/{id}/evidence', {
        params: { path: { id }, query: wanted(of) },
        body,
      }),
    ),
  voidEvidence: (id: string, entry: string, body: Schemas['VoidRequest'], of?: ShownOfJob) =>
    answer(
      client.POST('/api/v1/jobs/{id}/evidence/{entry}/void', {
        params: { path: { id, entry }, query: wanted(of) },
        body,
      }),
    ),
  soak: (id: string) => answer(client.GET('/api/v1/jobs/{id}/soak', { params: { path: { id } } })),
  recordSoak: (id: string, body: RecordSoak) =>
    answer(client.POST('/api/v1/jobs/{id}/soak/entries', { params: { path: { id } }, body })),
  voidSoak: (id: string, entry: string, body: Schemas['VoidRequest']) =>
    answer(
      client.POST('/api/v1/jobs/{id}/soak/entries/{entry}/void', {
        params: { path: { id, entry } },
        body,
      }),
    ),
  drops: (id: string, circuit: string | undefined) =>
    answer(client.GET('/api/v1/jobs/{id}/drops', { params: { path: { id }, query: { circuit } } })),
  fuses: (id: string) =>
    answer(client.GET('/api/v1/jobs/{id}/fuses', { params: { path: { id } } })),
  charging: (id: string) =>
    answer(client.GET('/api/v1/jobs/{id}/charging', { params: { path: { id } } })),
  loads: (id: string) =>
    answer(client.GET('/api/v1/jobs/{id}/loads', { params: { path: { id } } })),
  battery: (id: string) =>
    answer(client.GET('/api/v1/jobs/{id}/battery', { params: { path: { id } } })),
  release: (id: string) =>
    answer(client.GET('/api/v1/jobs/{id}/release', { params: { path: { id } } })),
  recordRelease: (id: string, body: RecordRelease) =>
    answer(client.POST('/api/v1/jobs/{id}/release/entries', { params: { path: { id } }, body })),
  voidRelease: (id: string, entry: string, body: Schemas['VoidRequest']) =>
    answer(
      client.POST('/api/v1/jobs/{id}/release/entries/{entry}/void', {
        params: { path: { id, entry } },
        body,
      }),
    ),
  benchSwitches: (query: Wanted) => answer(client.GET('/api/v1/bench', { params: { query } })),
  laySwitch: (body: Schemas['LaySwitch']) => answer(client.POST('/api/v1/bench', { body })),
  benchSwitch: (id: string) =>
    answer(client.GET('/api/v1/bench/{id}', { params: { path: { id } } })),
  changeSwitch: (id: string, body: Schemas['ChangeSwitch']) =>
    answer(client.PUT('/api/v1/bench/{id}', { params: { path: { id } }, body })),
  setSwitchStatus: (id: string, body: Schemas['SetSwitchStatus']) =>
    answer(client.PUT('/api/v1/bench/{id}/status', { params: { path: { id } }, body })),
  recordAtBench: (id: string, body: RecordAtBench) =>
    answer(client.POST('/api/v1/bench/{id}/entries', { params: { path: { id } }, body })),
  voidAtBench: (id: string, entry: string, body: Schemas['VoidRequest']) =>
    answer(
      client.POST('/api/v1/bench/{id}/entries/{entry}/void', {
        params: { path: { id, entry } },
        body,
      }),
    ),
  bringTable: (id: string, body: Schemas['BringTable']) =>
    answer(client.POST('/api/v1/bench/{id}/table', { params: { path: { id } }, body })),
  foundProfile: (id: string) =>
    answer(client.GET('/api/v1/bench/{id}/profile', { params: { path: { id } } })),
  assignments: (id: string) =>
    answer(client.GET('/api/v1/bench/{id}/assignments', { params: { path: { id } } })),
  attachSwitch: (id: string, body: Schemas['Attach']) =>
    answer(client.POST('/api/v1/bench/{id}/attach', { params: { path: { id } }, body })),
  switchProfiles: () => answer(client.GET('/api/v1/switch-profiles')),
  keepProfile: (body: Schemas['KeepProfile']) =>
    answer(client.POST('/api/v1/switch-profiles', { body })),
  forgetProfile: async (id: string) => {
    const { response, error } = await client.DELETE('/api/v1/switch-profiles/{id}', {
      params: { path: { id } },
    })
    if (!response.ok) throw new ApiError(response.status, error as Problem | undefined)
  },
  machineSwitches: (name: string) =>
    answer(client.GET('/api/v1/machines/{name}/switches', { params: { path: { name } } })),
  keepVerdict: (id: string, body: Schemas['KeepVerdict']) =>
    answer(client.POST('/api/v1/jobs/{id}/verdicts', { params: { path: { id } }, body })),
  voidVerdict: (id: string, verdict: string, body: Schemas['VoidRequest']) =>
    answer(
      client.POST('/api/v1/jobs/{id}/verdicts/{verdict}/void', {
        params: { path: { id, verdict } },
        body,
      }),
    ),
}

/**
 * Listens to a meter until it is told to stop. Each event is handed over; what the server says
 * against it is thrown, and so is the end of the connection.
 */
export async function listenToMeter(
  body: Schemas['Listen'],
  signal: AbortSignal,
  heard: (live: LiveView) => void,
): Promise<never> {
  const headers = { 'content-type': 'application/json' }
  const asked = { method: 'POST', headers, body: JSON.stringify(body), signal }
  const response = await fetch('/api/v1/meter/live', asked).catch((error: unknown) => {
    if (signal.aborted) throw error
    throw new ApiError(0, undefined)
  })
  if (!response.ok || !response.body) {
    throw new ApiError(response.status, (await response.json().catch(() => undefined)) as Problem)
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read().catch(() => ({ done: true, value: undefined }))
    if (done || value === undefined) throw new ApiError(0, undefined)
    const events = (rest + value).split('\n\n')
    rest = events.pop() ?? ''
    for (const event of events) {
      const data = event.split('\n').find((line) => line.startsWith('data:'))
      if (data) heard(JSON.parse(data.slice(5)) as LiveView)
    }
  }
}
