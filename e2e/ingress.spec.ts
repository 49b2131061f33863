import { expect, test } from './fixtures.js';
import { consequences, expectChanges, pasteRows, rowOf, sheetOf, tableOf } from './pages.js';

test('a service says who answers at each port, and that nobody listens where the port is wrong', async ({
  page,
  open,
}) => {
  await open('ingress?show=services');
  const right = consequences(page);
  await rowOf(page, 'Services', 'tide-models').first().getByRole('gridcell', { name: 'tide', exact: true }).click();
  const members = tableOf(page, 'Members at tcp 80');
  // 18 and 2 pods: nine of ten calls to the first.
  await expect(members.getByRole('row', { name: /tide-v1/ })).toContainText('90.0 %');
  await expect(members.getByRole('row', { name: /tide-v2/ })).toContainText('10.0 %');
  await expect(right).toContainText('100.112.0.12, fixed');
  await sheetOf(page, 'Services').getByRole('gridcell', { name: 'archive', exact: true }).click();
  await expect(right).toContainText('nothing answers yet');

  await sheetOf(page, 'Services').getByRole('gridcell', { name: 'tide-gate', exact: true }).click();
  await expect(tableOf(page, 'Members at tcp 443')).toContainText('nobody listens');
  const ports = rowOf(page, 'Services', 'tide-gate').getByRole('gridcell', { name: /tcp 443 to/ });
  await ports.dblclick();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('tcp 443 to control node 30443');
  await page.keyboard.press('Enter');
  await expect(tableOf(page, 'Members at tcp 443').getByRole('row', { name: /tide-gate/ })).toContainText('9443');
  await expectChanges(page, 1);
});

test('what a zone that is lost leaves without room is told, and more nodes end it', async ({ page, open }) => {
  await open('ingress');
  const room = tableOf(page, 'Room on the nodes of booking-north');
  await expect(room.getByRole('row', { name: /^Today/ })).toContainText('all');
  await expect(room.getByRole('row', { name: /^Zone n1 lost/ })).toContainText('4 without room');
  await expect(consequences(page).getByRole('list', { name: 'Workloads without room' })).toContainText(
    'shop/seat-search',
  );
  await open('demand?show=nodePools');
  const now = rowOf(page, 'Node pools', 'seat-search').getByRole('gridcell', { name: '4', exact: true });
  await now.dblclick();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('6');
  await page.keyboard.press('Enter');
  await open('ingress');
  await expect(room.getByRole('row', { name: /lost/ })).toContainText('all');
});

test('workloads are pasted, a bad row is told with its place and keeps nothing from being mended', async ({
  page,
  open,
}) => {
  await open('ingress');
  const dialog = await pasteRows(
    page,
    'cluster,namespace,name,labels,replicas,at horizon,container ports\nbooking-north,shop,fares,app=fares,2,4,http tcp 8080\nbooking-north,shop,Seats,app=seats,2,4,http tcp 80800',
  );
  await expect(dialog).toContainText('80800');
  await expect(dialog).toContainText('a container port such as http tcp 8080');
  await page.keyboard.press('Escape');
  await expect(sheetOf(page, 'Workloads').getByRole('row')).toHaveCount(9);
});
