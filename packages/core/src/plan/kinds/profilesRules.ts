import { profiles } from './profiles.js';
import type { Profile } from './profiles.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';

export const profilesRules: KindRules<Profile> = {
  label: ({ name }) => name,
  about: ({ subnetScope }) => `subnets per ${subnetScope}`,
  betweenFields: (profile) => [
    ...inOrderOfSize(profile, 'smallestSubnet', 'largestSubnet'),
    ...inOrderOfSize(profile, 'smallestBlock', 'largestBlock'),
  ],
};

function inOrderOfSize(
  profile: Profile,
  smallest: 'smallestSubnet' | 'smallestBlock',
  largest: 'largestSubnet' | 'largestBlock',
): FieldProblem[] {
  if (profile[smallest] >= profile[largest]) return [];
  const labels = [profiles.fields[smallest].label, profiles.fields[largest].label];
  const text = `${labels[0]} /${profile[smallest]} is larger than ${labels[1]} /${profile[largest]}.`;
  return [wrong(smallest, 'profile.size-order', text, 'A smaller range has the longer prefix: swap them.')];
}
