import type { components } from './schema';

type Schemas = components['schemas'];
/** What the server sends and takes, as its own description says it. */
export type Api<K extends keyof Schemas> = Schemas[K];

export type Overview = Api<'Overview'>;
export type TriggerView = Api<'TriggerView'>;
export type TriggerChange = Api<'TriggerChange'>;
export type TimesView = Api<'TimesView'>;
export type ScheduleSettings = Api<'ScheduleSettings'>;
export type Input = Api<'Input'>;
export type EndpointView = Api<'EndpointView'>;
export type EndpointChange = Api<'EndpointChange'>;
export type SoapTrigger = Api<'SoapTrigger'>;
export type HttpTrigger = Api<'HttpTrigger'>;
export type QueueTrigger = Api<'QueueTrigger'>;
export type FolderTrigger = Api<'FolderTrigger'>;
export type RowsTrigger = Api<'RowsTrigger'>;
export type RunTrigger = Api<'RunTrigger'>;
export type MessagePlace = Api<'MessagePlace'>;
export type TriedEndpoint = Api<'TriedEndpoint'>;
export type KeyView = Api<'KeyView'>;
export type OperationPath = Api<'OperationPath'>;
export type ContractItem = Api<'ContractItem'>;
export type ContractView = Api<'ContractView'>;
export type PortView = Api<'PortView'>;
export type OperationView = Api<'OperationView'>;
export type ShapeRow = Api<'Row'>;
export type Problem = Api<'Problem'>;
export type BenchAnswer = Api<'BenchAnswer'>;
export type BenchMessage = Api<'BenchMessage'>;
export type ChangesView = Api<'ChangesView'>;
export type Change = Api<'Change'>;
export type Use = Api<'Use'>;
export type Hit = Api<'Hit'>;
export type PastExchange = Api<'PastExchange'>;
export type Findings = Api<'Findings'>;
export type ConnectionView = Api<'ConnectionView'>;
export type SourceView = Api<'SourceView'>;
export type TargetView = Api<'TargetView'>;
/** What documents look like: a shape of the project. */
export type DocumentShape = Api<'KeptShape'>;
export type Format = Api<'Format'>;
export type Preview = Api<'Preview'>;
export type SourceUse = Api<'SourceUse'>;
export type Field = Api<'Field'>;
/** Its rows are there: what was known already is put back by the query. */
export type FillView = Api<'FillView'> & { rows: ShapeRow[] };
export type PickView = Api<'PickView'>;
export type PickedKind = Api<'PickedKind'>;
export type PickTrial = Api<'PickTrialView'>;
export type TriedKind = Api<'TriedKind'>;
export type TriedColumn = Api<'TriedColumn'>;
export type AnswerPlace = Api<'AnswerPlace'>;
export type Failing = Api<'Failing'>;
/** One kind of result records: a pick step's own, or a further one. */
export type RecordKind = Api<'RecordKind'>;
export type TriedCall = Api<'TriedCall'>;
export type FlowCheck = Api<'FlowCheck'>;
export type RunView = Api<'RunView'>;
export type StepView = Api<'StepView'>;
export type Tray = Api<'Tray'>;
export type Waiting = Api<'Waiting'>;
export type TrailView = Api<'TrailView'>;
export type RunCharts = Api<'RunCharts'>;
export type Specimen = Api<'Specimen'>;
export type FunctionView = Api<'FunctionView'>;

export type Tree = Api<'Tree'>;
export type Rule = Api<'Rule'>;
export type Column = Api<'Column'>;
/** A step; ids stay the same while it is changed or moved. */
export type Step = Api<'Step'>;
export type StepOf<K extends Step['kind']> = Extract<Step, { kind: K }>;
export type Flow = Api<'Flow'>;
export type FlowView = Api<'FlowView'>;
export type PageTrigger = Api<'PageTrigger'>;
export type PageFailure = Api<'PageFailure'>;
export type PageField = Api<'PageField'>;
export type PageResult = Api<'PageResult'>;
export type PageColumn = Api<'PageColumn'>;
export type PageNote = Api<'PageNote'>;
export type PageForm = Api<'PageForm'>;
export type FormField = Api<'FormField'>;
export type ShownField = Api<'ShownField'>;
export type OpenedPage = Api<'OpenedPage'>;
export type PageEntry = Api<'PageEntry'>;
/** An answer as it comes over the wire: the reply is what the flow answers, as it is. */
export type PageAnswer = Omit<Api<'PageAnswer'>, 'reply'> & { reply?: unknown };
