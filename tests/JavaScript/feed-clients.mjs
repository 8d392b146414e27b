// Two libraries for OData that nobody here wrote, asking a service of feeds: FEEDS is its address, FEED_KEY a key.
import { Buffer } from 'node:buffer';
import { createRequire } from 'node:module';
import process from 'node:process';

const require = createRequire(import.meta.url);
const { o } = require('odata');
const { OData } = require('@odata/client');

const root = `${process.env.FEEDS}/`;
const headers = { Authorization: `Basic ${Buffer.from(`any:${process.env.FEED_KEY}`).toString('base64')}` };
const found = {};

// Follows the pages of the server to the last.
const paged = async (address) => {
    const rows = [];
    let pages = 0;
    for (let next = address; next; pages++) {
        const answer = await o(next, { headers: { ...headers, Prefer: 'odata.maxpagesize=250' }, fragment: '' }).get().query();
        rows.push(...answer.value);
        next = answer['@odata.nextLink'];
    }
    return [pages, rows];
};

const one = o(root, { headers });
found.one = {
    open: (await one.get('loans_out').query({ $filter: "status eq 'open' and due lt 2030-10-01", $orderby: 'due desc', $select: 'loan_id,due', $top: 20 })).map((row) => row.loan_id),
    entity: (await one.get('loans_out(7617)').query()).ref,
    all: await paged(`${root}loans_out?$select=loan_id`).then(([pages, rows]) => [pages, rows.map((row) => row.loan_id)]),
};

const client = OData.New4({ serviceEndpoint: root, commonHeaders: headers });
const loans = client.getEntitySet('loans_out');
const options = client.newOptions().filter(client.newFilter().property('status').eq('open').property('fee').gt(500)).select(['loan_id', 'fee']).orderby('loan_id', 'asc').top(30);
found.other = {
    dear: (await loans.query(options)).map((row) => row.loan_id),
    entity: (await loans.retrieve(7617)).ref,
    count: await loans.count(client.newFilter().property('status').eq('open')),
    named: (await loans.query(client.newFilter().property('ref').eq('KB-7613'))).length,
};

process.stdout.write(JSON.stringify(found));
