/** The part of Chart.js that lanes are drawn with. */
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';

Chart.register(LineController, LineElement, PointElement, LinearScale);
export { Chart };
