import * as Comlink from 'comlink';
import { ratesWork } from './rates.js';

Comlink.expose(ratesWork);
