/** Inspection before the first log (common practice): for the customer, at the car, with the phone in hand. */
export interface InspectionItem {
	id: string;
	title: string;
	/** What to look for, in plain words. */
	how: string;
	/** A photo says more than the word. */
	photo: boolean;
}

export const INSPECTION: readonly InspectionItem[] = [
	{
		id: 'clamps',
		title: 'Hoses and clamps',
		how: 'Go along every hose between air filter, charger, cooler and throttle. Try to turn each clamp; none may be loose, no hose cracked or soaked in oil.',
		photo: true
	},
	{
		id: 'coolant',
		title: 'Coolant level',
		how: 'Engine cold: the level stands between the marks.',
		photo: true
	},
	{
		id: 'oil',
		title: 'Oil level',
		how: 'Car level, engine off for a few minutes: between the marks.',
		photo: false
	},
	{
		id: 'leaks',
		title: 'Leaks',
		how: 'Look under the engine and along the fuel lines, with a light. Nothing wet, no smell of fuel.',
		photo: true
	},
	{
		id: 'plugs',
		title: 'Spark plugs',
		how: 'Are they the type that your tuner named, and when were they changed? If you have them out, photograph them in the order of the cylinders.',
		photo: true
	},
	{
		id: 'exhaust',
		title: 'Exhaust before the sensors',
		how: 'No soot around gaskets and joints: air that gets in there makes the mixture look lean.',
		photo: false
	},
	{
		id: 'tank',
		title: 'Fuel in the tank',
		how: 'Which fuel, from where, how old, and how full is the tank?',
		photo: false
	},
	{
		id: 'sensors',
		title: 'Knock and lambda sensors',
		how: 'All plugged in; nothing bypassed, no warning lamp on.',
		photo: false
	}
];
