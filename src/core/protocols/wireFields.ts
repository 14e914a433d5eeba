import Joi from 'joi';
import { hostName } from './hostName';

const port = Joi.number().integer().min(1).max(65535).required();

/** Where what is said to another program may go. */
export const messageTarget = Joi.alternatives(
  Joi.object({ kind: Joi.valid('simulated').required() }),
  Joi.object({ kind: Joi.valid('network').required(), host: hostName, port }),
).required();

/** What may stand as a wire's target, in a show file and from a driver alike. */
export const wireTarget = Joi.alternatives(
  Joi.object({ kind: Joi.valid('simulated').required() }),
  Joi.object({ kind: Joi.valid('network').required(), host: hostName, port }),
  Joi.object({ kind: Joi.valid('nodes').required(), host: hostName, port }),
  Joi.object({ kind: Joi.valid('multicast').required(), from: hostName.allow(null) }),
).required();
