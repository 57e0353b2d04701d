/** What is wrong with the stand-in vehicle, hidden from whoever reads its log. */
export interface Faults {
	/** Injector flow of each bank against nominal (1 = healthy). */
	bankFlow?: [number, number];
	/** Air that the place of each bank adds or takes, whatever injectors it has (1 = healthy): a leak, a gasket. */
	bankAir?: [number, number];
	/** What the controller's own sensor of each bank shows of the truth (1 = healthy). */
	bankSensor?: [number, number];
	/** Fuel pressure lost at full flow, kPa. */
	pressureSagKpa?: number;
	/** Fuel that it takes for the same lambda against what is stated: more ethanol in the tank than on the sheet (1.08 = 8 % more). */
	fuelNeed?: number;
	/** Octane number of what is really in the tank. */
	octaneRon?: number;
	/** Noise that the knock sensor takes for knock, events per second at high engine speed. */
	falseKnockPerS?: number;
	/** The controller's own lambda sensors read this much rich at full boost (0.1 = 10 %). */
	factoryDriftRich?: number;
	/** The controller's own lambda sensors read this much rich from an engine speed on, fully so 800 rpm over it. */
	factoryDriftAt?: { fromRpm: number; share: number };
	/** Boost that is lost through a leak, share of the set point above atmosphere. */
	boostLeak?: number;
	/** A cylinder that misfires while loaded: its number and how often in a second. */
	misfire?: { cylinder: number; perS: number };
	/** Supply voltage while running, instead of a healthy 14.1 V. */
	supplyV?: number;
	/** Intake air gets this much hotter per kPa of boost than with a healthy cooler, °C. */
	coolerLossPerKpa?: number;
	/** The controller closes the throttle to this opening above 4500 rpm, whatever the pedal says. */
	throttleLimitPct?: number;
	/** Boost control overshoots: share of the set point above atmosphere that is too much. */
	overboost?: number;
	/** Injector flow of a bank between two engine speeds against nominal: a port that starves there, and nowhere else. */
	bankFlowAt?: { bank: 1 | 2; rpm: [number, number]; share: number };
	/** A cylinder that is this much leaner than the others (0.1 = 10 %), everywhere or between two engine speeds; lambda is then logged by cylinder. */
	leanCylinder?: { cylinder: number; share: number; rpm?: [number, number] };
	/** A cylinder that doesn't burn at full load from this moment on, and nobody counts it: the log has no counters. */
	deadCylinder?: { cylinder: number; fromS: number; rpm?: [number, number] };
	/** Coolant that is this much too hot, °C. */
	coolantOverC?: number;
	/** A table that learned to take this much timing out under load, whatever the calibration says, degrees. */
	learnedRetardDeg?: number;
	/** Timing of the most torque at full load, °BTDC. Without it timing gives no torque and takes none. */
	torqueTopDeg?: number;
}
