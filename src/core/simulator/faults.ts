/** What is wrong with the stand-in vehicle, hidden from whoever reads its log. */
export interface Faults {
	/** Injector flow of each bank against nominal (1 = healthy). */
	bankFlow?: [number, number];
	/** Fuel pressure lost at full flow, kPa. */
	pressureSagKpa?: number;
	/** Octane number of what is really in the tank. */
	octaneRon?: number;
	/** Noise that the knock sensor takes for knock, events per second at high engine speed. */
	falseKnockPerS?: number;
	/** The controller's own lambda sensors read this much rich at full boost (0.1 = 10 %). */
	factoryDriftRich?: number;
	/** Boost that is lost through a leak, share of the set point above atmosphere. */
	boostLeak?: number;
}
