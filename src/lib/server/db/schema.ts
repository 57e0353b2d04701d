/** The tables, as Kysely sees them. Moments are ISO 8601 texts in UTC; documents are JSON texts. */
import type {
	CustomerTable,
	PracticeSessionTable,
	FillTable,
	HardwareChangeTable,
	JobTable,
	InspectionTable,
	PhotoTable,
	MaximaReadingTable,
	PlugReadingTable,
	StageCallTable,
	SwapTestTable,
	TimelineTable,
	TimeslipTable,
	VehicleTable
} from '$lib/server/db/schema/jobs.ts';
import type {
	AssignmentTable,
	FindingAnswerTable,
	KnockProofStepTable,
	KnockProofTable,
	LayoutTable,
	LogBlockTable,
	LogChannelTable,
	LogFieldTable,
	LogTable,
	ScreeningTable,
	FindingTable,
	SecondRecorderTable,
	TypedReadingTable
} from '$lib/server/db/schema/logs.ts';
import type {
	AttachmentTable,
	HandedTablesTable,
	HoldAnswerTable,
	KitFileTable,
	RecordingKitTable,
	ReplayTable,
	RevisionEventTable,
	RevisionTable,
	TableLayoutTable,
	TableProofTable
} from '$lib/server/db/schema/revisions.ts';
import type {
	CaughtMailTable,
	InvitationTable,
	LinkTable,
	MailTable,
	MessageTable,
	RequestTable,
	SessionTable,
	TunerSettingTable,
	WorkshopTable,
	UserTable
} from '$lib/server/db/schema/people.ts';

export interface Database {
	customers: CustomerTable;
	vehicles: VehicleTable;
	jobs: JobTable;
	revisions: RevisionTable;
	attachments: AttachmentTable;
	handed_tables: HandedTablesTable;
	logs: LogTable;
	hardware_changes: HardwareChangeTable;
	stage_calls: StageCallTable;
	fills: FillTable;
	typed_readings: TypedReadingTable;
	findings: FindingTable;
	practice_sessions: PracticeSessionTable;
	second_recorders: SecondRecorderTable;
	swap_tests: SwapTestTable;
	plug_readings: PlugReadingTable;
	maxima_readings: MaximaReadingTable;
	log_fields: LogFieldTable;
	table_layouts: TableLayoutTable;
	recording_kits: RecordingKitTable;
	kit_files: KitFileTable;
	table_proofs: TableProofTable;
	log_channels: LogChannelTable;
	log_blocks: LogBlockTable;
	screenings: ScreeningTable;
	links: LinkTable;
	assignments: AssignmentTable;
	/** Jobs that go with their customer, while they go. */
	leaving: { job_id: number };
	ids: { name: string; last: number };
	layouts: LayoutTable;
	requests: RequestTable;
	mails: MailTable;
	messages: MessageTable;
	caught_mails: CaughtMailTable;
	inspection: InspectionTable;
	photos: PhotoTable;
	invitations: InvitationTable;
	tuner_settings: TunerSettingTable;
	workshop: WorkshopTable;
	finding_answers: FindingAnswerTable;
	knock_proofs: KnockProofTable;
	knock_proof_steps: KnockProofStepTable;
	hold_answers: HoldAnswerTable;
	revision_events: RevisionEventTable;
	replays: ReplayTable;
	timeslips: TimeslipTable;
	timeline: TimelineTable;
	user: UserTable;
	session: SessionTable;
}
