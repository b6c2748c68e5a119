import * as Comlink from 'comlink';
import { benchWork } from './bench.js';

Comlink.expose(benchWork);
