<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Delivery;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Follow;
use App\Models\User;
use App\Notes\Announcer;
use App\Notes\FollowRefused;
use App\Notes\Follows;
use App\Notes\Sender;

final class FollowCommand extends SpringCommand
{
    protected $signature = 'spring:follow {email? : Who is told; without it, who follows what is listed} {thing? : A source or SOURCE/ENDPOINT; without it everything} {--post= : The address that is told by a signed POST, in place of mail} {--daily= : Once a day at HH:MM of their time zone, in place of at once} {--failures : Only of what was refused, failed or is paused} {--stop= : Number of what is followed no more} {--test= : Number of what a test is sent to} {--environment= : Environment (production)}';

    protected $description = 'Lists who is told of notes and how, adds somebody, sends a test, stops it';

    public function work(Follows $follows, Announcer $announcer, Sender $sender): int
    {
        if ($this->option('stop') !== null) {
            $follow = $this->follow((string) $this->option('stop'));
            $follow->delete();
            $this->say("{$follow->user->email} does not follow {$follow->thing()} any more.");

            return self::DONE;
        }
        if ($this->option('test') !== null) {
            $delivery = $announcer->test($follow = $this->follow((string) $this->option('test')));
            $sender->sendTo($follow);
            $delivery->refresh();
            $this->say($delivery->answer ?? 'It waits for a message before it.');

            return $delivery->state === Delivery::SENT ? self::DONE : self::REFUSED;
        }
        if (! is_string($this->argument('email'))) {
            return $this->list();
        }
        $person = User::query()->where('email', $this->argument('email'))->first() ?? throw new WrongUse("Nobody has the address {$this->argument('email')}.");
        $environment = Environment::named((string) ($this->option('environment') ?: Environment::PRODUCTION)) ?? throw new WrongUse("There is no environment \"{$this->option('environment')}\".");
        [$slug, $endpoint] = explode('/', (string) $this->argument('thing'), 2) + [1 => ''];
        $source = $slug === '' ? null : $this->source($slug);
        $which = $source === null || $endpoint === '' ? null : Endpoint::query()->where(['source_id' => $source->id, 'slug' => $endpoint])->first() ?? throw new WrongUse("$slug has no endpoint \"$endpoint\".");
        try {
            [$follow, $secret] = $follows->add($person, $environment, $source, $which, is_string($this->option('post')) ? $this->option('post') : null, is_string($this->option('daily')) ? $this->option('daily') : null, (bool) $this->option('failures'));
        } catch (FollowRefused $refused) {
            throw new WrongUse($refused->getMessage());
        }
        $this->say("{$person->email} follows {$follow->thing()} in {$environment->name}, number {$follow->id}.");
        if ($secret !== null) {
            $this->say('What is posted is signed with this secret, which is not shown again:');
            $this->giveLine($secret);
        }

        return self::DONE;
    }

    private function list(): int
    {
        $all = Follow::query()->with(['user', 'environment', 'source', 'endpoint.source'])->orderBy('id')->get();
        foreach ($all as $follow) {
            $this->giveLine(implode("\t", [$follow->id, $follow->user->email, $follow->environment->slug, $follow->thing(), $follow->failures_only ? 'failures' : 'all', $follow->by === Follow::MAIL ? 'mail' : (string) $follow->address, $follow->daily_at ?? 'at once', $follow->ended === null ? 'told' : 'ended']));
        }
        $all->isEmpty() && $this->say('Nobody follows anything.');

        return self::DONE;
    }

    private function follow(string $number): Follow
    {
        return (preg_match('/^\d{1,18}$/D', $number) === 1 ? Follow::query()->with(['user', 'environment'])->find((int) $number) : null) ?? throw new WrongUse("Nothing that is followed has the number $number.");
    }
}
