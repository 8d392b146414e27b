<?php

declare(strict_types=1);

namespace App\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\User;
use App\Secrets\Vault;
use DeepSpring\Identity\Base32;
use DeepSpring\Identity\RecoveryCodes;
use DeepSpring\Identity\Totp;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * The second factor of a person: a secret shared with an authenticator, and codes for the day that is
 * lost. Each code is taken once.
 */
final readonly class SecondFactor
{
    public function __construct(private Vault $vault, private AuditLog $log)
    {
    }

    /**
     * A new secret, in use once a code of it was given.
     */
    public function begin(User $person): void
    {
        if (! $person->hasSecondFactor()) {
            $person->forceFill(['totp_secret' => $this->vault->seal(random_bytes(Totp::SECRET_BYTES))])->save();
        }
    }

    /**
     * What is typed into an authenticator, and what it reads from a picture; null when none was begun.
     *
     * @return array{string, string}|null
     */
    public function offered(User $person): ?array
    {
        $secret = $person->hasSecondFactor() || $person->totp_secret === null ? null : $this->vault->unseal($person->totp_secret);

        return $secret === null ? null : [trim(chunk_split(Base32::encode($secret), 4, ' ')), (new Totp($secret))->address('Deep Spring', $person->email)];
    }

    /**
     * @return list<string>|null recovery codes, which are shown this once; null when the code is wrong
     */
    public function confirm(User $person, #[\SensitiveParameter] string $code): ?array
    {
        if ($person->hasSecondFactor() || $this->takeCode($person, $code) === false) {
            return null;
        }
        $person->refresh()->forceFill(['totp_confirmed_at' => Carbon::now()])->save();
        $this->log->note(Action::SecondFactorOn, $person->email);

        return $this->renewRecoveryCodes($person);
    }

    /**
     * @return list<string>
     */
    public function renewRecoveryCodes(User $person): array
    {
        $codes = RecoveryCodes::make(random_int(...));
        $person->forceFill(['recovery_codes' => array_map(RecoveryCodes::hash(...), $codes)])->save();

        return $codes;
    }

    public function remove(User $person): void
    {
        $person->forceFill(['totp_secret' => null, 'totp_confirmed_at' => null, 'totp_step' => 0, 'recovery_codes' => null])->save();
        $this->log->note(Action::SecondFactorOff, $person->email);
    }

    /**
     * @return string|null how it was proven; null when it was not
     */
    public function take(User $person, #[\SensitiveParameter] string $code): ?string
    {
        if ($this->takeCode($person, $code)) {
            return 'a code';
        }

        return DB::transaction(static function () use ($person, $code): ?string {
            $row = User::query()->lockForUpdate()->findOrFail($person->id);
            $left = RecoveryCodes::spend($code, $row->recovery_codes ?? []);
            if ($left === null) {
                return null;
            }
            $row->forceFill(['recovery_codes' => $left])->save();

            return 'a recovery code ('.count($left).' left)';
        });
    }

    private function takeCode(User $person, #[\SensitiveParameter] string $code): bool
    {
        $secret = $person->totp_secret === null ? null : $this->vault->unseal($person->totp_secret);
        if ($secret === null) {
            return false;
        }

        return DB::transaction(static function () use ($person, $secret, $code): bool {
            $row = User::query()->lockForUpdate()->findOrFail($person->id);
            $now = time();
            // A step far ahead is of a clock that was wrong, and must not lock anybody out.
            $after = $row->totp_step > intdiv($now, 30) + 10 ? 0 : $row->totp_step;
            $step = (new Totp($secret))->step($code, $now, $after);
            if ($step === null) {
                return false;
            }
            $row->forceFill(['totp_step' => $step])->save();

            return true;
        });
    }
}
