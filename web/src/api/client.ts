import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

type Schemas = components['schemas']
export type JobSummary = Schemas['JobSummary']
export type JobView = Schemas['JobView']
export type MachineView = Schemas['MachineView']
export type Control = Schemas['Control']
export type TraceView = Schemas['TraceView']
export type PieceView = Schemas['PieceView']
export type ElementView = Schemas['ElementView']
export type TrackPoint = Schemas['TrackPoint']
export type PointView = Schemas['PointView']
export type DiagnosisView = Schemas['DiagnosisView']
export type SuspectView = Schemas['SuspectView']
export type TestView = Schemas['TestView']
export type AnswerView = Schemas['AnswerView']
export type UnitView = Schemas['UnitView']
export type ConclusionView = Schemas['ConclusionView']
export type EvidenceView = Schemas['EvidenceView']
export type VerdictView = Schemas['VerdictView']
export type SetUpEntry = Schemas['SetUpEntry']
export type SetUpView = Schemas['SetUpView']
export type Instrument = Schemas['Instrument']
export type Heard = Schemas['Heard']
export type Record = Schemas['Record']
export type Problem = Schemas['Problem']
export type FaultMode = Schemas['FaultMode']
export type Caution = Schemas['Caution']
/** Control id -> position id. */
export type Condition = { [control: string]: string }

const client = createClient<paths>({ baseUrl: '/' })

/** A request that was answered with a problem, or not at all. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem | undefined,
  ) {
    super(problem?.detail ?? 'The server does not answer.')
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

async function answer<T>(
  request: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result
  try {
    result = await request
  } catch {
    throw new ApiError(0, undefined)
  }
  if (result.data === undefined) {
    throw new ApiError(result.response.status, result.error as Problem | undefined)
  }
  return result.data
}

function set(condition: Condition): string[] {
  return Object.entries(condition).map(([control, position]) => `${control}:${position}`)
}

export const api = {
  jobs: () => answer(client.GET('/api/v1/jobs')),
  job: (id: string) => answer(client.GET('/api/v1/jobs/{id}', { params: { path: { id } } })),
  openJob: (body: Schemas['OpenJob']) => answer(client.POST('/api/v1/jobs', { body })),
  setStatus: (id: string, body: Schemas['SetStatus']) =>
    answer(client.PUT('/api/v1/jobs/{id}/status', { params: { path: { id } }, body })),
  machines: () => answer(client.GET('/api/v1/machines')),
  people: () => answer(client.GET('/api/v1/people')),
  trace: (id: string, circuit: string, condition: Condition) =>
    answer(
      client.GET('/api/v1/jobs/{id}/trace/{circuit}', {
        params: { path: { id, circuit }, query: { set: set(condition) } },
      }),
    ),
  diagnosis: (id: string, condition: Condition) =>
    answer(
      client.GET('/api/v1/jobs/{id}/diagnosis', {
        params: { path: { id }, query: { set: set(condition) } },
      }),
    ),
  record: (id: string, body: Record) =>
    answer(client.POST('/api/v1/jobs/{id}/evidence', { params: { path: { id } }, body })),
  voidEvidence: (id: string, entry: string, body: Schemas['VoidRequest']) =>
    answer(
      client.POST('/api/v1/jobs/{id}/evidence/{entry}/void', {
        params: { path: { id, entry } },
        body,
      }),
    ),
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
