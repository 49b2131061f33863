import { byId } from '../collection.js';
import type { Controller } from './controllers.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const controllersRules: KindRules<Controller> = {
  label: ({ name }) => name,
  about: ({ classes, clusterId }, plan) =>
    `controller of ${classes.join(', ')} in ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  betweenFields: ({ classes, defaultClass }) =>
    defaultClass === '' || classes.includes(defaultClass)
      ? []
      : [
          wrong(
            'defaultClass',
            'controller.default',
            `${defaultClass} is none of its classes: ${classes.join(', ')}.`,
            'Name one of them, or leave it empty.',
          ),
        ],
  betweenEntities: (plan, { id, defaultClass, clusterId, serviceId, balancerId, tier }) => {
    const service = byId(plan.services, serviceId ?? '');
    const balancer = byId(plan.balancers, balancerId ?? '');
    const cluster = byId(plan.clusters, clusterId)?.name ?? '';
    const other = plan.controllers.find(
      (each) => each.id !== id && each.clusterId === clusterId && each.defaultClass !== '',
    );
    return [
      // With two default classes the API takes no Ingress without one (its documentation, from memory).
      ...(defaultClass !== '' && other !== undefined && other.defaultClass !== defaultClass
        ? [
            wrong(
              'defaultClass',
              'controller.default-twice',
              `${other.name} has the default class ${other.defaultClass} in ${cluster} already.`,
              'A cluster has one default class: leave one of them empty.',
            ),
          ]
        : []),
      ...(service !== undefined && service.clusterId !== clusterId
        ? [
            wrong(
              'serviceId',
              'controller.service',
              `The service ${service.namespace}/${service.name} is of another cluster than ${cluster}.`,
              'Choose one of the controller’s own cluster.',
            ),
          ]
        : []),
      ...(tier === 'on a load balancer' && balancer?.layer === '4'
        ? [
            wrong(
              'balancerId',
              'controller.layer',
              `${balancer.name} works at layer 4 and reads no requests.`,
              'Choose a load balancer of layer 7.',
            ),
          ]
        : []),
    ];
  },
};
