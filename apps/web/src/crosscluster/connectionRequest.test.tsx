import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { BrowserRouter } from 'react-router';
import { demoPlan } from '@wide-lattice/core/demo';
import { PlanContext } from '../plan/PlanContext';
import type { OpenPlan } from '../plan/PlanContext';
import { useConnectionRequest } from './connectionRequest';

const plan = demoPlan();

/** The address of a browser, and the plan whose clusters are chosen from. */
function Framed({ children }: { readonly children: ReactNode }) {
  return (
    <BrowserRouter>
      <PlanContext.Provider value={{ plan, revision: 1 } as OpenPlan}>{children}</PlanContext.Provider>
    </BrowserRouter>
  );
}

const opened = (address: string) => {
  window.history.replaceState(null, '', address);
  return renderHook(() => useConnectionRequest(), { wrapper: Framed }).result;
};

const [one, two] = plan.clusters;

test('two changes that come before the page is drawn again are both kept', () => {
  const request = opened('/?side=choose');
  act(() => {
    request.current.add(one?.id ?? '');
    request.current.add(two?.id ?? '');
    request.current.change({ planned: '80' });
    request.current.change({ gateways: '3' });
    for (const name of ['one', 'two'])
      request.current.change(({ sides }) => ({ sides: { ...sides, [name]: { dials: 'dials', addresses: '' } } }));
  });
  expect(request.current.chosen.map(({ name }) => name)).toEqual([one?.name, two?.name]);
  expect(request.current.texts).toMatchObject({ planned: '80', gateways: '3' });
  expect(Object.keys(request.current.texts.sides)).toEqual(['one', 'two']);
  act(() => request.current.leaveOut(one?.name ?? ''));
  expect(request.current.chosen.map(({ name }) => name)).toEqual([two?.name]);
});

test('an address says the request again, and what it says of another kind is left out', () => {
  const said = encodeURIComponent(JSON.stringify({ gateways: '4', exportsServices: 'yes', rendezvous: 7 }));
  const request = opened(`/?join=${one?.name}&wish=${said}`);
  expect(request.current.chosen).toEqual([one]);
  expect(request.current.texts).toMatchObject({ gateways: '4', exportsServices: true, rendezvous: '' });
});

test('a number out of range is a fault that names it, and the number stays as it was typed', () => {
  const request = opened('/');
  act(() => request.current.change({ gateways: '40' }));
  expect(request.current.texts.gateways).toBe('40');
  expect(request.current.faults.join(' ')).toContain('40');
});
