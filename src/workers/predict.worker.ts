import * as Comlink from 'comlink';
import { predictWork } from './predict.js';

Comlink.expose(predictWork);
