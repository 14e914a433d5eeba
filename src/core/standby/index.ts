export { Standby, type First, type StandbyState } from './standby';
