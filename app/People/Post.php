<?php

declare(strict_types=1);

namespace App\People;

use App\Models\User;
use Illuminate\Contracts\Mail\Factory;
use Illuminate\Mail\Message;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;

/**
 * Mail to people, where it is set up.
 */
final readonly class Post
{
    public function __construct(private Factory $mail)
    {
    }

    /**
     * Whether links that let somebody in can be sent.
     */
    public function isSetUp(): bool
    {
        return config('mail.default') !== 'none';
    }

    /**
     * @return string|null what came of it, in a sentence; null where no mail is set up
     */
    public function invitation(string $email, string $link, ?User $by): ?string
    {
        return $this->send('mail.invitation', $email, 'An invitation to Deep Spring', ['link' => $link, 'by' => $by?->name, 'days' => Invitations::INVITE_DAYS]);
    }

    public function reset(User $person, string $link): ?string
    {
        return $this->send('mail.reset', $person->email, 'A new password for Deep Spring', ['link' => $link, 'name' => $person->name, 'hours' => Invitations::RESET_HOURS]);
    }

    /**
     * Whether notes can be sent.
     */
    public function takesNotes(): bool
    {
        return config('mail.notes') !== 'none';
    }

    /**
     * A note.
     *
     * @param  string  $id  by which a mail that is sent twice can be told
     *
     * @throws TransportExceptionInterface
     */
    public function note(string $to, string $subject, string $text, string $id): void
    {
        $host = parse_url((string) config('app.url'), PHP_URL_HOST);
        $this->mail->mailer((string) config('mail.notes'))->raw($text, static function (Message $message) use ($to, $subject, $id, $host): void {
            $message->to($to)->subject($subject);
            $message->getHeaders()->addIdHeader('Message-ID', $id.'@'.(is_string($host) ? trim($host, '[]') : 'localhost'));
        });
    }

    /**
     * @param  array<string, mixed>  $with
     */
    private function send(string $view, string $to, string $subject, array $with): ?string
    {
        if (! $this->isSetUp()) {
            return null;
        }
        try {
            $this->mail->mailer()->send(['text' => $view], $with, static fn (Message $message) => $message->to($to)->subject($subject));

            return "It was sent to $to.";
        } catch (TransportExceptionInterface $failed) {
            return 'The mail could not be sent: '.mb_strimwidth(mb_scrub($failed->getMessage()), 0, 200, '…').' Hand the link over yourself.';
        }
    }
}
