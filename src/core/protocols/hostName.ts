import Joi from 'joi';

/** A name or address of another machine, as show files and the bridge accept it. */
export const hostName = Joi.string().hostname().max(253).required();

export function isHostName(text: string): boolean {
  return hostName.validate(text).error === undefined;
}
