import { benchPeriods } from './period.js';
import { report } from './report.js';

benchPeriods(report);
