export { DESK_LOST_MS, Desks, type DeskPacket, type DeskSeen } from './desks';
