/** What the names of columns say: which channel one could mean, and whether it is of a person. */
import { CHANNELS, MAX_CYLINDERS } from './canonical.ts';

/** Columns that identify people or places stay in the received file and nowhere else. */
export function isPrivate(name: string): boolean {
	return /\b(vin|gps|latitude|longitude|lat|lon|lng|serial|driver|owner|phone)\b/.test(plain(name));
}

/** Lower case words: camelCase and digits split off, punctuation as blanks. */
export function plain(name: string): string {
	return name
		.replace(/([a-z])([A-Z])/g, '$1 $2')
		.toLowerCase()
		.replace(/[_\-./#:,;()[\]]+/g, ' ')
		.replace(/([a-zλ])(\d)/g, '$1 $2')
		.replace(/\s+/g, ' ')
		.trim();
}

interface Rule {
	id: string;
	name: RegExp;
	not?: RegExp;
	/** Extra certainty for names that can hardly mean anything else. */
	sure?: boolean;
}

const TARGET = /\b(target|desired|commanded|command|cmd|set ?point|request(ed)?|demand|aim|goal|wanted)\b/;
const AVERAGE = /\b(average|avg|mean)\b/;
const CORRECTION =
	/\b(trim|correction|corr|error|err|diff|delta|limit|max|min|raw|volt(s|age)?|status|enable[d]?|active|flag|table|cell|index)\b/;

const RULES: Rule[] = [
	{
		id: 'time',
		name: /^(time|timestamp|t|elapsed( time)?|seconds|secs?|clock|(record|log) time)$/,
		sure: true
	},
	{
		id: 'rpm',
		name: /\b(rpm|engine speed|revs|crank(shaft)? speed|n engine)\b/,
		not: /\b(limit|launch|turbo|shaft|wheel|turbine|shift|output|input|cut|max)\b/
	},
	{
		id: 'map',
		name: /\b(map|manifold( absolute)?( air)?( press(ure)?)?|inlet press(ure)?|intake press(ure)?|boost( press(ure)?)?)\b/,
		not: /\b(temp(erature)?|index|select|number|duty|solenoid|error|fuel|spark|ignition|control)\b/
	},
	{ id: 'baro', name: /\b(baro(meter|metric)?|atmospheric|ambient press(ure)?)\b/ },
	{ id: 'tps', name: /\b(tps|throttle)\b/, not: /\b(pedal|accel(erator)?)\b/ },
	{ id: 'pedal', name: /\b(pedal|accelerator|app|pps)\b/, not: /\b(brake|clutch)\b/ },
	{
		id: 'speed',
		name: /\b((vehicle|road|ground|car|wheel) speed|vss|speed)\b/,
		not: /\b(engine|turbo|shaft|fan|crank|turbine|idle)\b/
	},
	{ id: 'gear', name: /\b(gear|current gear)\b/, not: /\b(ratio|box|temp(erature)?)\b/ },
	{
		id: 'iat',
		name: /\b(iat|intake (air )?temp(erature)?|inlet (air )?temp(erature)?|charge (air )?temp(erature)?|mat|manifold (air )?temp(erature)?|air temp(erature)?)\b/,
		not: /\b(ambient|outside)\b/
	},
	{
		id: 'ect',
		name: /\b(ect|clt|coolant( temp(erature)?)?|water temp(erature)?|engine temp(erature)?)\b/,
		not: /\b(press(ure)?|level|fan)\b/
	},
	{
		id: 'oilTemp',
		name: /\b(oil temp(erature)?|engine oil temp(erature)?)\b/,
		not: /\b(trans(mission)?|gearbox|diff)\b/
	},
	{ id: 'oilPressure', name: /\boil press(ure)?\b/, not: /\b(trans(mission)?|gearbox)\b/ },
	{ id: 'transTemp', name: /\b(trans(mission)?|gearbox)( oil| fluid)? temp(erature)?\b/ },
	{ id: 'fuelTemp', name: /\bfuel( rail)? temp(erature)?\b/, not: /\b(pump|trim|corr(ection)?)\b/ },
	{ id: 'ecuTemp', name: /\b(ecu|controller|board|pcm|ecm) temp(erature)?\b/ },
	{ id: 'ambientTemp', name: /\b(ambient|outside|weather)( air)? temp(erature)?\b/ },
	{ id: 'vbat', name: /\b(batt(ery)?( volt(s|age)?)?|vbat|supply volt(s|age)?|system volt(s|age)?)\b/ },
	{ id: 'lambda.target', name: /\b(lambda|afr|mixture|air fuel( ratio)?|eq ratio)\b/ },
	{ id: 'lambda.dyno', name: /\bdyno (lambda|afr)\b/ },
	{
		id: 'lambda.ref',
		name: /\b((ref(erence)?|external|independent|tailpipe|collector|wideband|aux(iliary)?)( \w+)? (lambda|afr)|(lambda|afr) (ref(erence)?|external|independent|tailpipe|collector|aux(iliary)?)|wideband)\b/
	},
	{ id: 'lambda.b', name: /\b(lambda|afr|air fuel( ratio)?|o 2 lambda)\b/ },
	{
		id: 'stft.b',
		name: /\b(stft|short( term)?( fuel)? (trim|corr(ection)?)|(closed loop|cl)( (fuel|lambda|o 2))? (comp(ensation)?|corr(ection)?|trim|feedback)|(lambda|o 2|ego|fuel) (corr(ection)?|feedback|integrator)|(lambda|o 2|ego) trim|st fuel trim)\b/,
		not: /\b(iat|air|temp(erature)?|coolant|warm ?up|start|baro|batt(ery)?|accel(eration)?|cyl(inder)?|long|learn(ed|t)?|press(ure)?|cold)\b/
	},
	{
		id: 'ltft.b',
		name: /\b(ltft|long( term)?( fuel)? (trim|correction)|learn(ed|t)?( fuel)? trim|adaptive( fuel)? trim|lt fuel trim)\b/
	},
	{
		id: 'pw.b',
		name: /\b(pw|ipw|pulse ?width|inj(ector|ection)?( effective)? (pulse( ?width)?|time|pw|duration|open time))\b/,
		not: /\b(dead|duty)\b/
	},
	{ id: 'injDuty', name: /\b((inj(ector)?|fuel)( \w+)? duty( cycle)?|idc)\b/, not: /\b(pump)\b/ },
	{ id: 'fuelPressure', name: /\bfuel press(ure)?\b/, not: /\brail\b/ },
	{ id: 'railPressure', name: /\b(fuel )?rail press(ure)?\b/ },
	{ id: 'railTarget', name: /\b(fuel )?rail press(ure)?\b/ },
	{ id: 'boostTarget', name: /\b(boost|map|manifold)( press(ure)?)?\b/ },
	{ id: 'exhaustPressure', name: /\b(exhaust|turbine inlet|back) ?press(ure)?\b/ },
	{
		id: 'maf',
		name: /\b(maf|mass air( flow)?|air ?mass flow|air ?flow( meter)?)\b/,
		not: /\b(model|ve|speed density|freq(uency)?|per cyl|volts?|estimated)\b/
	},
	{ id: 'mafFrequency', name: /\b(maf|mass air( flow)?|air meter|air ?flow) freq(uency)?\b/ },
	{
		id: 'airflowModel',
		name: /\b((ve|model(led)?|speed density|estimated) (air ?flow|air ?mass flow)|air ?flow (ve|model(led)?))\b/
	},
	{
		id: 'airmass',
		name: /\b(cyl(inder)? (air ?mass|air ?charge|airflow)|air ?mass( per cyl(inder)?)?|air charge|charge per cyl(inder)?|load air ?mass)\b/,
		not: /\bflow\b/
	},
	{
		id: 'sparkBase',
		name: /\b(base|map|table) (spark|timing|ignition)|\b(spark|timing|ignition)( advance| angle| timing)? (base|table)\b/
	},
	{
		id: 'spark',
		name: /\b(spark|ignition|timing)( (advance|angle|timing|final|total))*\b/,
		not: /\b(retard|knock|trim|correction|base|cyl|dwell|cut|table)\b/
	},
	{
		id: 'knockRetard',
		name: /\bknock( \w+)? (retard|correction|pull|learn)|\b(kr|knock retard|knock)\b/,
		not: /\b(advance|monitor|level|volt(s|age)?|count|noise|threshold|sens(or|itivity)?|learn(ed|t)?)\b/
	},
	{
		id: 'knockLearned',
		name: /\b(learn(ed|t)|adapt(ed|ation|ive)|stored) knock( (retard|correction))?|knock( \w+)? (learn(ed|t|ing)?|adaptation|memory)( retard)?\b/,
		not: /\b(monitor|level|volt(s|age)?|count|noise|threshold|sens(or|itivity)?)\b/
	},
	{ id: 'octaneFactor', name: /\boctane( \w+)? (factor|adaptation|ratio|learn(ed|t)?|adjust(ment)?)\b/ },
	{ id: 'knockAdvance', name: /\bknock( \w+)? advance\b/ },
	{
		id: 'knockMonitor',
		name: /\b(knock (monitor|level|ear)|(independent|external|audio|acoustic) knock|det(onation)? monitor)\b/
	},
	{ id: 'ethanol', name: /\b(ethanol|flex( fuel)?|alcohol)( content| percent(age)?| pct)?\b/ },
	{ id: 'fuelFlowBase', name: /\bbase fuel( mass)? flow|fuel( mass)? flow base\b/ },
	{ id: 'nitrousFuel', name: /\bnitrous( \w+)? fuel|nitrous adder\b/ },
	{ id: 'nitrousDuty', name: /\bnitrous( \w+)? duty\b/ },
	{ id: 'fuelFlow', name: /\bfuel( mass)? flow\b/, not: /\bbase\b/ },
	{ id: 'camIntakeTarget', name: /\b(intake|inlet) (cam|vvt|valve)( \w+)?\b/ },
	{ id: 'camIntake', name: /\b(intake|inlet) (cam|vvt)\b/ },
	{ id: 'camExhaust', name: /\bexhaust (cam|vvt)\b/ },
	{ id: 'wastegateDuty', name: /\b(wastegate|boost (control|solenoid))( \w+)?( duty)?\b/ },
	{ id: 'fuelPumpDuty', name: /\bfuel pump( \w+)? duty\b/ },
	{ id: 'syncErrors', name: /\b(sync|trigger)( \w+)? (error|loss)(es|s)?( count(er)?)?\b/ },
	{ id: 'torqueSource', name: /\btorque( limit(ed)?)? (source|reason|by)\b/ },
	{
		id: 'torqueLimit',
		name: /\btorque (limit(ed|ing|er)?|intervention|reduction)\b/,
		not: /\b(source|reason|by)\b/
	},
	{ id: 'faultCodes', name: /\b(fault|trouble|error) codes?\b|\bdtcs?\b/ },
	{
		id: 'torque',
		name: /\b(engine |wheel |brake )?torque\b/,
		not: /\b(limit(ed|ing|er)?|intervention|reduction|converter|source|reason)\b/
	},
	{ id: 'power', name: /\b(engine |wheel |brake )?(power|horsepower)\b/ },
	{ id: 'calibrationId', name: /\b(calibration|tune|map)( \w+)? (id|name|number|version|revision)\b/ }
];

/** Channels whose name must carry a word for "target". */
const TARGETS = new Set(['lambda.target', 'boostTarget', 'railTarget', 'camIntakeTarget']);

/** Canonical ids that the name could mean, best first. */
export function candidatesByName(rawName: string): { id: string; score: number }[] {
	if (CHANNELS.has(rawName)) return [{ id: rawName, score: 100 }];
	const text = plain(rawName);
	const target = TARGET.test(text);
	const cyl = /\b(?:cyl(?:inder)?|no) ?(\d{1,2})\b/.exec(text) ?? null;
	const bank =
		/\b(?:bank|b|sensor|s|lambda|afr|side) ?([12])\b/.exec(text)?.[1] ??
		/\b(?:[a-z]+) ([12])$/.exec(text)?.[1] ??
		null;
	const found: { id: string; score: number }[] = [];
	for (const rule of RULES) {
		const m = rule.name.exec(text);
		if (!m || rule.not?.test(text)) continue;
		if (
			TARGETS.has(rule.id) !== target &&
			!['calibrationId', 'torqueLimit', 'torqueSource'].includes(rule.id)
		)
			continue;
		let id = rule.id;
		let score = 10 + m[0].length;
		if (rule.sure) score += 20;
		if (AVERAGE.test(text)) score -= 30;
		if (id.endsWith('.b')) {
			if (id === 'lambda.b' && cyl) id = `lambda.cyl${cyl[1]}`;
			else {
				if (id === 'lambda.b' && CORRECTION.test(text)) continue;
				id = `${id}${bank ?? '1'}`;
				if (!bank) score -= 2;
			}
		} else if (id === 'lambda.ref' && bank === '2' && !/bank/.test(text)) id = 'lambda.ref2';
		else if (id === 'knockRetard' && cyl) id = `knockRetard.cyl${cyl[1]}`;
		if (/\.cyl(\d+)$/.test(id) && Number(/\d+$/.exec(id)![0]) > MAX_CYLINDERS) continue;
		found.push({ id, score });
	}
	if (cyl && Number(cyl[1]) >= 1 && Number(cyl[1]) <= MAX_CYLINDERS) {
		if (/\bmisfires?\b/.test(text)) found.push({ id: `misfire.cyl${cyl[1]}`, score: 30 });
		if (/\b(egt|exhaust( gas)? temp(erature)?)\b/.test(text))
			found.push({ id: `egt.cyl${cyl[1]}`, score: 30 });
	}
	return found.sort((a, b) => b.score - a.score);
}
