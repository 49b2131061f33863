import { demoId } from './adds.js';

/** The ids of what the demo stands on, by what it is called. */
export const profile = {
  halden: demoId('profiles', 1),
  orrery: demoId('profiles', 2),
  basalt: demoId('profiles', 3),
  pier: demoId('profiles', 4),
};
export const site = {
  haldenNorth: demoId('sites', 1),
  haldenSouth: demoId('sites', 2),
  orreryEast: demoId('sites', 3),
  basalt: demoId('sites', 4),
};
export const network = {
  booking: demoId('networks', 1),
  models: demoId('networks', 2),
  basalt: demoId('networks', 3),
  piers: demoId('networks', 4),
  office: demoId('networks', 5),
  coaches: demoId('networks', 6),
  lab: demoId('networks', 7),
  radar: demoId('networks', 8),
  clearing: demoId('networks', 9),
  hub: demoId('networks', 10),
};
export const template = { kiosk: demoId('templates', 2) };
export const link = { hub: demoId('links', 1), radar: demoId('links', 4), clearing: demoId('links', 5) };
