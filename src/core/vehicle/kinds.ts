/** Where a new vehicle starts from: sensible values by kind, all of them to be looked at. Our own choice, not a standard. */
export const KINDS: readonly { id: string; title: string; fields: Readonly<Record<string, string>> }[] = [
	{
		id: 'four-turbo-port',
		title: 'Four cylinders, turbo, port injection',
		fields: {
			'engine.layout': 'inline',
			'engine.cylinders': '4',
			'engine.banks': '1 2 3 4',
			'engine.firingOrder': '1 3 4 2',
			'engine.aspiration': 'turbo',
			'engine.injection': 'port',
			'engine.idleRpm': '850',
			'engine.revLimitRpm': '7000',
			'injectors.ratedPressureKpa': '300',
			'injectors.basePressureKpa': '300',
			'injectors.pressureReference': 'manifold',
			'injectors.injectionsPerCycle': '1'
		}
	},
	{
		id: 'four-turbo-direct',
		title: 'Four cylinders, turbo, direct injection',
		fields: {
			'engine.layout': 'inline',
			'engine.cylinders': '4',
			'engine.banks': '1 2 3 4',
			'engine.firingOrder': '1 3 4 2',
			'engine.aspiration': 'turbo',
			'engine.injection': 'direct',
			'engine.idleRpm': '800',
			'engine.revLimitRpm': '6500',
			'injectors.pressureReference': 'controlled',
			'injectors.windowDeg': '250'
		}
	},
	{
		id: 'six-v-turbo',
		title: 'V6, turbo, port injection',
		fields: {
			'engine.layout': 'v',
			'engine.cylinders': '6',
			'engine.banks': '1 3 5 / 2 4 6',
			'engine.firingOrder': '1 2 3 4 5 6',
			'engine.aspiration': 'turbo',
			'engine.injection': 'port',
			'engine.idleRpm': '800',
			'engine.revLimitRpm': '6800',
			'injectors.ratedPressureKpa': '300',
			'injectors.basePressureKpa': '300',
			'injectors.pressureReference': 'manifold',
			'injectors.injectionsPerCycle': '1'
		}
	},
	{
		id: 'eight-v-na',
		title: 'V8, naturally aspirated, port injection',
		fields: {
			'engine.layout': 'v',
			'engine.cylinders': '8',
			'engine.banks': '1 3 5 7 / 2 4 6 8',
			'engine.aspiration': 'na',
			'engine.injection': 'port',
			'engine.idleRpm': '700',
			'engine.revLimitRpm': '6200',
			'injectors.ratedPressureKpa': '400',
			'injectors.basePressureKpa': '400',
			'injectors.pressureReference': 'atmosphere',
			'injectors.injectionsPerCycle': '1'
		}
	},
	{
		id: 'eight-v-blown',
		title: 'V8, supercharged, port injection',
		fields: {
			'engine.layout': 'v',
			'engine.cylinders': '8',
			'engine.banks': '1 3 5 7 / 2 4 6 8',
			'engine.aspiration': 'supercharged',
			'engine.injection': 'port',
			'engine.idleRpm': '750',
			'engine.revLimitRpm': '6500',
			'injectors.ratedPressureKpa': '400',
			'injectors.basePressureKpa': '400',
			'injectors.pressureReference': 'manifold',
			'injectors.injectionsPerCycle': '1'
		}
	},
	{
		id: 'four-na',
		title: 'Four cylinders, naturally aspirated, port injection',
		fields: {
			'engine.layout': 'inline',
			'engine.cylinders': '4',
			'engine.banks': '1 2 3 4',
			'engine.firingOrder': '1 3 4 2',
			'engine.aspiration': 'na',
			'engine.injection': 'port',
			'engine.idleRpm': '900',
			'engine.revLimitRpm': '7500',
			'injectors.ratedPressureKpa': '300',
			'injectors.basePressureKpa': '300',
			'injectors.pressureReference': 'manifold',
			'injectors.injectionsPerCycle': '1'
		}
	}
];
