export {
  isOscAddress,
  MESSAGE_RATE,
  messageParameters,
  type MessageForm,
  type MessageTarget,
  OSC_TYPES,
  type OscType,
  saidOf,
} from './kinds';
