<?php

declare(strict_types=1);

namespace App\Notes;

use App\Models\Delivery;
use App\Models\Follow;
use App\People\Post;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Access\SecretMask;
use DeepSpring\Note\RetryTimes;
use DeepSpring\Note\UnusableKey;
use DeepSpring\Note\WebhookSigner;
use GuzzleHttp\Psr7\Request;
use Illuminate\Database\Query\Builder;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;

/**
 * Sends the messages that are due. Those for one follower leave in their order: a later one waits until the one
 * before has arrived or is given up. What a process had in hand when it died is sent again, under the same number.
 */
final readonly class Sender
{
    /** Seconds that an address has to answer. */
    private const PATIENCE = 15;

    /** Seconds for which a message belongs to the process that took it. */
    private const TAKEN = 120;

    /** Bytes of an answer that are read. */
    private const ANSWER = 65536;

    private const GONE = 410;

    public function __construct(private Transport $transport, private Vault $vault, private Post $post)
    {
    }

    public static function isAnythingDue(): bool
    {
        return self::due()->exists();
    }

    /**
     * @param  float  $seconds  after which no other message is begun
     * @return int messages that arrived
     */
    public function send(float $seconds = 45): int
    {
        $until = microtime(true) + $seconds;
        $arrived = 0;
        do {
            // One of each follower, so that an address that takes its time does not keep the others waiting for all that is meant for it.
            $ids = self::due()->orderBy('next_at')->orderBy('id')->pluck('id');
            foreach ($ids as $id) {
                if (microtime(true) > $until) {
                    return $arrived;
                }
                $arrived += $this->take((int) $id) ? 1 : 0;
            }
        } while ($ids->isNotEmpty());

        return $arrived;
    }

    /**
     * All that waits for one follower, without regard to when it is due; until one does not arrive.
     */
    public function sendTo(Follow $follow): void
    {
        $waiting = Delivery::query()->where('follow_id', $follow->id)->where('state', Delivery::WAITING);
        $waiting->clone()->update(['next_at' => Carbon::now()]);
        do {
            $id = $waiting->clone()->min('id');
        } while (is_numeric($id) && $this->take((int) $id));
    }

    /**
     * The first message of each follower that waits, where it is due.
     */
    private static function due(): Builder
    {
        $first = DB::table('deliveries')->where('state', Delivery::WAITING)->groupBy('follow_id')->selectRaw('min(id)');

        return DB::table('deliveries')->whereIn('id', $first)->where('next_at', '<=', Carbon::now()->format('Y-m-d H:i:s.u'));
    }

    /**
     * @return bool whether it arrived
     */
    private function take(int $id): bool
    {
        $now = Carbon::now();
        $mine = DB::table('deliveries')->where('id', $id)->where('state', Delivery::WAITING)->where('next_at', '<=', $now->format('Y-m-d H:i:s.u'))
            ->update(['attempts' => DB::raw('attempts + 1'), 'next_at' => $now->copy()->addSeconds(self::TAKEN)->format('Y-m-d H:i:s.u')]);
        $delivery = $mine === 1 ? Delivery::query()->with(['follow.user'])->find($id) : null;
        if ($delivery === null) {
            return false;
        }

        if ($delivery->follow->user->isOff()) {
            return $this->lost($delivery, 'Who follows was switched off.');
        }

        return $delivery->follow->by === Follow::MAIL ? $this->mail($delivery) : $this->post($delivery);
    }

    private function mail(Delivery $delivery): bool
    {
        if (! $this->post->takesNotes()) {
            return $this->lost($delivery, 'No mail is set up here (MAIL_HOST).');
        }
        try {
            $this->post->note($delivery->follow->user->email, "Deep Spring: $delivery->subject", $delivery->body, $delivery->message);
        } catch (TransportExceptionInterface $failed) {
            $said = mb_strimwidth(mb_scrub($failed->getMessage()), 0, 400, '…');

            // What a mail server refuses for good (RFC 5321 §4.2.1) it refuses again.
            return $failed->getCode() >= 500 && $failed->getCode() < 600 ? $this->lost($delivery, $said) : $this->again($delivery, $said, null);
        }

        return $this->arrived($delivery, null, "The mail server took it for {$delivery->follow->user->email}.");
    }

    private function post(Delivery $delivery): bool
    {
        if (! Follows::mayBePostedTo((string) $delivery->follow->address, $delivery->follow->user)) {
            return $this->lost($delivery, Follows::ONLY_BUILDERS);
        }
        $secret = (string) $this->vault->unseal((string) $delivery->follow->secret);
        try {
            $headers = (new WebhookSigner($secret))->headers($delivery->message, Carbon::now()->getTimestamp(), $delivery->body);
        } catch (UnusableKey) {
            return $this->lost($delivery, 'Its secret cannot be opened. Make a new one.');
        }
        $sent = $this->transport->send(new Request('POST', (string) $delivery->follow->address, ['content-type' => 'application/json'] + $headers, $delivery->body), new Limits(self::PATIENCE, 1, self::ANSWER, isPatient: false), new SecretMask([$secret]));
        $said = self::said($sent);
        if ($sent->status === self::GONE) {
            $this->end($delivery->follow, 'The address answered 410: it is not to be told any more.');

            return $this->lost($delivery, $said);
        }

        return $sent->status !== null && $sent->status >= 200 && $sent->status < 300 && $sent->failing === null ? $this->arrived($delivery, $sent->status, $said) : $this->again($delivery, $said, $sent->status);
    }

    private static function said(Sent $sent): string
    {
        if ($sent->status === null) {
            return mb_strimwidth(mb_scrub($sent->detail), 0, 400, '…');
        }
        $text = trim((string) preg_replace('/\s+/u', ' ', mb_scrub($sent->body, 'UTF-8')));

        return "It answered $sent->status".($sent->status >= 300 && $sent->status < 400 ? ', which is not followed' : '').($text === '' ? '.' : ': '.mb_strimwidth($text, 0, 200, '…'));
    }

    private function arrived(Delivery $delivery, ?int $status, string $said): bool
    {
        $delivery->update(['state' => Delivery::SENT, 'status' => $status, 'answer' => $said, 'next_at' => null, 'ended_at' => Carbon::now()]);
        // It is back: what waited behind it need not wait any longer.
        Delivery::query()->where('follow_id', $delivery->follow_id)->where('state', Delivery::WAITING)->update(['next_at' => Carbon::now()]);

        return true;
    }

    private function again(Delivery $delivery, string $said, ?int $status): bool
    {
        $after = RetryTimes::after($delivery->attempts);
        if ($after === null) {
            return $this->lost($delivery, $said, $status);
        }
        $delivery->update(['status' => $status, 'answer' => $said, 'next_at' => Carbon::now()->addSeconds($after)]);

        return false;
    }

    private function lost(Delivery $delivery, string $said, ?int $status = null): bool
    {
        $delivery->update(['state' => Delivery::LOST, 'status' => $status ?? $delivery->status, 'answer' => mb_strimwidth($said, 0, 490, '…'), 'next_at' => null, 'ended_at' => Carbon::now()]);

        return false;
    }

    private function end(Follow $follow, string $why): void
    {
        $follow->update(['ended' => $why]);
        Delivery::query()->where('follow_id', $follow->id)->where('state', Delivery::WAITING)->update(['state' => Delivery::LOST, 'next_at' => null, 'ended_at' => Carbon::now(), 'answer' => $why]);
    }
}
