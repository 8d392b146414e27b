<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Web\SlowRequests;
use App\Models\Role;
use App\Models\User;
use Illuminate\Support\Facades\Route;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Every route against a written table: who gets to it, and which pool answers it.
 */
final class RoutesTest extends AppTestCase
{
    /** Nobody has to be signed in. */
    private const OPEN = ['up', 'ready', 'feeds', 'feeds.version', 'feeds.openapi', 'feeds.openapi.one', 'feeds.odata', 'feeds.odata.batch', 'feeds.odata2', 'feeds.odata2.batch', 'control.refresh', 'control.run', 'oauth.token', 'invitations.show', 'invitations.accept', 'strength'];

    /** For those who are not signed in. */
    private const GUEST = ['sign-in', 'sign-in.store', 'sign-in.second', 'sign-in.second.store', 'provider', 'provider.return', 'forgotten', 'forgotten.store'];

    /** For everybody who is signed in. */
    private const EVERYBODY = [
        'sign-out', 'watershed', 'environment', 'find', 'account', 'account.update', 'account.password', 'account.second.begin', 'account.second.confirm', 'account.second.codes', 'account.second.remove',
        'account.sessions.end', 'account.sessions.end-others', 'tables.index', 'tables.show', 'tables.origin', 'tables.indexes', 'tables.indexes.cost', 'tables.history', 'tables.profile', 'tables.profile.take', 'queries.index', 'queries.create', 'queries.run', 'queries.export', 'queries.store', 'queries.show', 'queries.update', 'queries.destroy',
        'queries.tidy', 'queries.stop', 'queries.build', 'queries.origin', 'queries.results', 'queries.results.part', 'queries.empty', 'queries.examples', 'queries.coverage', 'queries.chart', 'queries.asks', 'queries.complete', 'queries.export.give', 'queries.drafts.store', 'queries.drafts.destroy', 'queries.versions', 'queries.versions.restore', 'queries.keep', 'queries.keep.refresh', 'queries.keep.texts', 'queries.unkeep',
        // With a right to change the table, which no role has by itself.
        'changes.show', 'changes.cells', 'changes.rows', 'changes.look', 'changes.offered', 'changes.send', 'changes.stop', 'changes.share', 'changes.settle', 'changes.approve', 'changes.bulk', 'changes.bulk.store', 'changes.bulk.set', 'changes.bulk.update', 'changes.bulk.refusals', 'journal.index', 'journal.export', 'journal.show', 'journal.back',
        // Changed by whoever answers for it alone.
        'outlets.index', 'outlets.store', 'outlets.feed', 'outlets.feed.update', 'outlets.feed.destroy', 'outlets.feed.next', 'outlets.feed.off', 'outlets.feed.calls', 'outlets.feed.documentation', 'outlets.readers.store', 'outlets.readers.show', 'outlets.readers.update', 'outlets.readers.destroy', 'outlets.readers.give', 'outlets.readers.withdraw', 'outlets.values', 'outlets.file', 'outlets.file.take', 'outlets.door', 'outlets.door.give', 'outlets.door.again', 'outlets.door.withdraw', 'outlets.door.certificate',
        // Notes of which nothing concerns them are not found; what somebody follows is found by them alone.
        'notes.index', 'notes.show', 'notes.following', 'notes.follow', 'notes.deliveries', 'notes.unfollow', 'notes.follow.test', 'notes.follow.secret',
        // Found by whoever handed it in, and by nobody else.
        'imports.show', 'imports.apply', 'imports.slugs', 'imports.notices',
        // It ends with whoever began it: a state is looked for by person.
        'consent.return',
    ];

    private const ADMINISTRATOR = [
        'outbound.index', 'outbound.store', 'outbound.destroy', 'tries.allow', 'people.index', 'people.invite', 'people.policy', 'people.log', 'people.log.export',
        'people.invitations.take-back', 'people.role', 'people.group', 'people.group.make', 'people.group.rename', 'people.group.delete', 'people.group.add', 'people.group.remove', 'people.off', 'people.on', 'people.reset', 'metrics', 'outlets.values.update',
    ];

    /** Answered by the pool for what may take long. */
    private const SLOW = [
        'sources.store', 'sources.upload', 'sources.test', 'sources.secret', 'sources.discover', 'sources.import', 'services.read', 'services.counts', 'services.count', 'services.preview', 'sources.consent.forget',
        'docs.keep', 'endpoints.try', 'endpoints.take', 'endpoints.compare.try', 'endpoints.lookup.try', 'endpoints.change.prove', 'changes.bulk.store', 'changes.bulk.refusals', 'journal.export', 'sources.endpoint', 'services.take', 'tries.allow', 'endpoints.choice.preview', 'tries.repair', 'imports.apply', 'consent.return', 'provider', 'provider.return', 'queries.run', 'queries.results', 'queries.empty', 'queries.coverage', 'queries.chart', 'queries.asks', 'queries.export', 'queries.export.give', 'queries.update', 'queries.destroy', 'queries.keep', 'queries.unkeep',
        'tables.origin', 'queries.origin', 'tables.indexes', 'tables.indexes.cost', 'tables.history', 'tables.history.forget', 'tables.profile.take', 'notes.follow.test', 'endpoints.checks.tried', 'tries.har', 'tries.body', 'runs.rejects.export', 'people.log.export', 'feeds', 'feeds.version', 'feeds.openapi', 'feeds.openapi.one', 'feeds.odata', 'feeds.odata.batch', 'feeds.odata2', 'feeds.odata2.batch', 'outlets.feed', 'outlets.feed.update', 'outlets.file.take',
    ];

    /**
     * @return array<string, \Illuminate\Routing\Route>
     */
    private function routes(): array
    {
        $routes = [];
        foreach (Route::getRoutes() as $route) {
            $name = (string) $route->getName();
            self::assertNotSame('', $name, $route->uri().' has a name');
            $routes[$name] = $route;
        }

        return $routes;
    }

    public function test_the_table_holds_every_route_and_no_other(): void
    {
        $routes = array_keys($this->routes());
        self::assertGreaterThan(90, count($routes));
        foreach ([self::OPEN, self::GUEST, self::EVERYBODY, self::ADMINISTRATOR, self::SLOW] as $list) {
            self::assertSame([], array_values(array_diff($list, $routes)));
        }
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function people(): iterable
    {
        foreach (['guest', 'analyst', 'builder', 'administrator', 'off', 'ended'] as $who) {
            yield $who => [$who];
        }
    }

    #[DataProvider('people')]
    public function test_everybody_gets_where_they_may_and_nowhere_else(string $who): void
    {
        $this->source();
        $this->person(Role::Administrator);
        $role = Role::tryFrom($who) ?? Role::Administrator;
        foreach ($this->routes() as $name => $route) {
            $person = $who === 'guest' ? null : ($person ?? null)?->fresh() ?? $this->person($role);
            $person?->forceFill(['off_at' => null, 'role' => $role])->save();
            $path = '/'.$this->filled($route->uri(), $person);
            $this->flushSession();
            $this->app?->make('auth')->forgetGuards();
            if ($person !== null) {
                $this->actingAs($person);
            }
            if ($who === 'off') {
                User::query()->whereKey($person?->id)->update(['off_at' => now()]);
                $person?->refresh();
            }
            if ($who === 'ended') {
                \App\Models\OpenSession::query()->where('user_id', $person?->id)->delete();
            }
            $method = $route->methods()[0];
            $answer = $this->call($method, $path, [], [], [], ['HTTP_ACCEPT' => 'text/html']);
            $seen = match (true) {
                $answer->getStatusCode() === 403 => 'forbidden',
                in_array($answer->getStatusCode(), [301, 302], true) && str_ends_with((string) $answer->headers->get('Location'), '/sign-in') && ! in_array($name, ['sign-out', ...self::GUEST], true) => 'sign-in',
                default => 'in',
            };
            self::assertLessThan(500, $answer->getStatusCode(), "$who: $method $name");
            self::assertSame($this->expected($name, $who), $seen, "$who: $method $name, {$answer->getStatusCode()}");
        }
    }

    private function expected(string $name, string $who): string
    {
        if (in_array($name, [...self::OPEN, ...self::GUEST], true)) {
            return 'in';
        }
        if ($name === 'metrics') {
            // Asked by machines, it never leads to a sign-in.
            return in_array($who, ['administrator', 'ended'], true) ? 'in' : 'forbidden';
        }
        if (in_array($who, ['guest', 'off', 'ended'], true)) {
            return $name === 'sign-out' ? 'in' : 'sign-in';
        }
        if (in_array($name, self::EVERYBODY, true)) {
            return 'in';
        }
        if (in_array($name, self::ADMINISTRATOR, true)) {
            return $who === 'administrator' ? 'in' : 'forbidden';
        }

        return $who === 'analyst' ? 'forbidden' : 'in';
    }

    /**
     * With things that are there, where being there comes before being allowed.
     */
    private function filled(string $uri, ?User $person): string
    {
        $source = \App\Models\Source::query()->where('slug', 'loans-desk')->first() ?? $this->source();
        $endpoint = $source->endpoints()->where('slug', 'loans')->first() ?? $this->endpoint($source = $this->source(), 'loans');
        $try = \App\Models\Tryout::query()->create(['source_id' => $source->id, 'endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'succeeded' => true, 'milliseconds' => 1, 'records' => 0, 'strata' => array_fill_keys(['ask', 'answer', 'onward', 'flatten', 'keep', 'source', 'address', 'access'], 'x')]);
        $run = \App\Models\Run::query()->firstOrCreate(['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'state' => 'done'], ['version' => 1]);
        \App\Models\KeptTable::query()->firstOrCreate(['environment_id' => $this->trial()->id, 'name' => 'loans'], ['endpoint_id' => $endpoint->id, 'run_id' => $run->id, 'is_branch' => false, 'given_name' => 'loans', 'columns' => [], 'key' => [], 'rows' => 0, 'refreshed_at' => now()]);
        $exchange = \App\Models\Exchange::query()->create(['run_id' => $run->id, 'purpose' => 'request', 'number' => 1, 'request' => "GET /\n", 'headers' => '', 'bytes' => 0, 'timing' => []]);
        $drift = \App\Models\Drift::query()->firstOrCreate(['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'kind' => 'emptied', 'table' => 'loans', 'path' => '$.x'], ['run_id' => $run->id, 'sentence' => 'x', 'examples' => []]);
        $user = User::query()->where('role', 'analyst')->whereNull('off_at')->whereKeyNot($person?->id)->first() ?? $this->person(Role::Analyst);
        $query = \App\Models\SavedQuery::query()->create(['user_id' => $person->id ?? $user->id, 'name' => bin2hex(random_bytes(5)), 'sql' => 'select 1']);
        $invitation = \App\Models\Invitation::query()->create(['token' => bin2hex(random_bytes(32)), 'purpose' => 'invite', 'role' => 'analyst', 'email' => 'x@saltmarsh.example', 'expires_at' => now()->addDay()]);
        $host = \App\Models\AllowedHost::query()->firstOrCreate(['host' => 'x.saltmarsh.example', 'port' => 1]);

        $index = \App\Models\TableIndex::query()->firstOrCreate(['environment_id' => $this->trial()->id, 'table' => 'loans', 'mark' => \App\Models\TableIndex::markOf(['x'])], ['columns' => ['x']]);

        $schedule = \App\Models\Schedule::query()->firstOrCreate(['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id], ['refresh' => ['every' => '0 6 * * *']]);

        $note = \App\Models\Note::query()->firstOrCreate(['environment_id' => $this->trial()->id, 'cause' => 'x'], ['kind' => 'ageing', 'is_failure' => false, 'title' => 'x', 'sentence' => 'x', 'link' => '/', 'since' => now(), 'raised_at' => now()]);
        $follow = \App\Models\Follow::query()->create(['user_id' => $person->id ?? $user->id, 'environment_id' => $this->trial()->id, 'failures_only' => false, 'by' => 'mail']);

        $owner = ['user_id' => $person->id ?? $user->id];
        $feed = \App\Models\Feed::query()->create($owner + ['environment_id' => $this->trial()->id, 'name' => 'f'.bin2hex(random_bytes(5)), 'reads' => 'loans', 'columns' => []]);
        $group = \App\Models\PeopleGroup::query()->firstOrCreate(['name' => 'Registrars']);
        $consumer = \App\Models\Consumer::query()->create($owner + ['name' => bin2hex(random_bytes(5))]);
        $key = \App\Models\ConsumerKey::query()->create(['consumer_id' => $consumer->id, 'beginning' => 'ds_'.bin2hex(random_bytes(3)).'x', 'hash' => str_repeat('0', 64), 'created_at' => now()]);

        $account = \App\Models\DoorAccount::query()->where('user_id', $owner['user_id'])->first() ?? \App\Models\DoorAccount::query()->create($owner + ['environment_id' => $this->trial()->id, 'name' => 'ds_tool_'.bin2hex(random_bytes(4)), 'created_at' => now()]);

        foreach (Role::cases() as $role) {
            \App\Models\ChangeRight::query()->firstOrCreate(['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'role' => $role]);
        }
        $changes = \App\Models\ChangeSet::query()->create($owner + ['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'table' => 'loans', 'kind' => 'bulk', 'state' => 'stopped']);

        return strtr($uri, [
            '{changes}' => (string) $changes->id, '{entry}' => '999999', '{group}' => (string) $group->id,
            '{account}' => (string) $account->id, '{table}' => 'loans', '{path?}' => 'loans', '{feed}' => (string) $feed->id, '{consumer}' => (string) $consumer->id, '{key}' => (string) $key->id, '{file}' => 'loans',
            '{note}' => (string) $note->id, '{draft}' => '999999', '{follow}' => (string) $follow->id,
            '{schedule}' => (string) $schedule->id,
            '{index}' => (string) $index->id,
            '{source}' => $source->slug, '{endpoint:slug}' => 'loans', '{endpoint}' => 'loans', '{tryout}' => (string) $try->id, '{number}' => '1', '{run}' => (string) $run->id, '{exchange}' => (string) $exchange->id,
            '{environment:slug}' => 'trial', '{environment}' => 'trial', '{host}' => (string) $host->id, '{drift}' => (string) $drift->id, '{query}' => (string) $query->id, '{name}' => 'loans', '{version}' => '1', '{set}' => 'Venues',
            '{person}' => (string) $user->id, '{invitation}' => (string) $invitation->id, '{session}' => '999999', '{result}' => '999999', '{part}' => '0', '{token}' => 'none', '{import}' => $this->pending(),
        ]);
    }

    private function pending(): string
    {
        static $path = null;
        if ($path === null || \App\Models\PendingImport::query()->doesntExist()) {
            $this->actingAs(User::query()->where('role', 'builder')->whereNull('off_at')->first() ?? $this->person(Role::Builder));
            $path = basename((string) $this->post('/sources', ['start' => "curl https://loans.saltmarsh.example/v2/a\ncurl https://loans.saltmarsh.example/v2/b/7"])->headers->get('Location'));
        }

        return $path;
    }

    public function test_the_pool_for_what_may_take_long_answers_exactly_that(): void
    {
        $slow = [];
        foreach ($this->routes() as $name => $route) {
            $path = '/'.ltrim(str_replace('{number}', '1', (string) preg_replace('/\{[^}]+\}/', '7', $route->uri())), '/');
            if (SlowRequests::holds($route->methods()[0], $path)) {
                $slow[] = $name;
            }
        }
        self::assertEqualsCanonicalizing(self::SLOW, $slow);
        foreach (['GET /tables/loans?q=x' => true, 'GET /tables/loans?sort=due&after=' => true, 'GET /tables/loans' => false, 'GET /tables/loans?q=' => false, 'POST /sources/x/stop' => false, 'POST /sources/x/endpoints/y/preview' => false, 'POST /sources/x/endpoints/y' => false, 'GET /consent/return?code=1&state=2' => true] as $request => $expected) {
            self::assertSame($expected, SlowRequests::holds(...explode(' ', $request, 2)), $request);
        }
    }
}
