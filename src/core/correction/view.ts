/** The requirement as a page shows it: plain data, table by table. */
import { z } from 'zod';
import type { Requirement } from './estimate.ts';

const rows = z.array(z.array(z.number()));

export const requirementSchema = z.object({
	schema: z.literal('tanto.requirement/1'),
	tables: z.array(
		z.object({
			item: z.string(),
			x: z.object({ channel: z.string(), unit: z.string().optional(), points: z.array(z.number()) }),
			y: z
				.object({ channel: z.string(), unit: z.string().optional(), points: z.array(z.number()) })
				.nullable(),
			/** What the engine wants of each cell, percent; its standard deviation, the day's scatter in it; trust 0–1. */
			percent: rows,
			sd: rows,
			trust: rows,
			/** Change by the rules, percent: 0 where the cell stays. */
			change: rows,
			samples: rows,
			/** What the change rests on, or why the cell stays. */
			why: z.array(
				z.array(
					z.enum([
						'measured',
						'carried',
						'upwards',
						'misfit',
						'quiet',
						'removal-held',
						'far',
						'unsure',
						'held',
						'none'
					])
				)
			),
			/** Seconds by log, in the order of `logs`. */
			seconds: z.array(rows)
		})
	),
	/** Logs that speak, by their place among those asked. */
	logs: z.array(z.object({ log: z.number(), offsetPct: z.number(), sdPct: z.number(), seconds: z.number() })),
	silent: z.array(z.object({ log: z.number(), reason: z.string() })),
	/** Standard deviation of the readings, percent: part throttle, loaded; and of a day. */
	noisePct: z.tuple([z.number(), z.number()]),
	dayPct: z.number()
});
export type RequirementView = z.infer<typeof requirementSchema>;

const round = (v: number, by = 1000) => Math.round(v * by) / by;

export function requirementView(r: Requirement): RequirementView {
	const { field: f, changes, nodes } = r;
	const speaking = r.hearings.flatMap((h, log) => (h.silent === null ? [log] : []));
	return {
		schema: 'tanto.requirement/1',
		tables: nodes.tables.map((t) => {
			const each = <T>(of: (i: number) => T): T[][] =>
				t.rows.map((row, k) => row.map((_, c) => of(t.first + k * t.nx + c)));
			const axis = (a: { channel: string; unit?: string | undefined; points: readonly number[] }) => ({
				channel: a.channel,
				...(a.unit === undefined ? {} : { unit: a.unit }),
				points: [...a.points]
			});
			return {
				item: t.id,
				x: axis(t.x),
				y: t.y ? axis(t.y) : null,
				percent: each((i) => round(100 * f.d[i]!)),
				sd: each((i) => round(100 * changes[i]!.sdTotal)),
				trust: each((i) => round(f.trust[i]!)),
				change: each((i) => round(100 * changes[i]!.delta)),
				samples: each((i) => round(f.support[i]!, 10)),
				why: each((i) => {
					const n = changes[i]!;
					if (n.delta === 0) return n.stays ?? 'none';
					return n.upwards ? 'upwards' : n.misfit ? 'misfit' : (n.basis ?? 'none');
				}),
				seconds: f.secondsByLog.map((by) => each((i) => round(by[i]!, 100)))
			};
		}),
		logs: speaking.map((log, n) => ({
			log,
			offsetPct: round(100 * f.offsets[n]!.value),
			sdPct: round(100 * f.offsets[n]!.sd),
			seconds: round(
				f.secondsByLog[n]!.reduce((s, v) => s + v, 0),
				10
			)
		})),
		silent: r.hearings.flatMap((h, log) => (h.silent === null ? [] : [{ log, reason: h.silent }])),
		noisePct: [round(100 * f.noise.sigma[0]), round(100 * f.noise.sigma[1])],
		dayPct: round(100 * f.day)
	};
}
