<?php

declare(strict_types=1);

namespace App\Local\Backup;

use App\Local\Trouble;

/**
 * A backup as it is written: a first line that says what it is, then parts of a name and any number
 * of bytes, deflated; sealed as a stream (XChaCha20-Poly1305, libsodium secretstream) under a key that
 * Argon2id makes of a passphrase, where one is given. A file that was cut or changed is refused.
 */
final class BackupArchive
{
    public const FIRST = "Deep Spring backup 1\n";

    public const CHUNK = 1 << 18;

    /** @var resource|null */
    private $file = null;

    private ?string $state = null;

    private string $buffer = '';

    private ?\DeflateContext $deflate = null;

    private readonly string $working;

    public function __construct(private readonly string $path, #[\SensitiveParameter] private readonly ?string $passphrase)
    {
        $this->working = "$path.part";
    }

    /**
     * @param  array<string, mixed>  $about
     *
     * @throws Trouble
     */
    public function begin(array $about): void
    {
        $old = umask(0077);
        $file = @fopen($this->working, 'x');
        umask($old);
        if ($file === false) {
            throw new Trouble("{$this->working} cannot be written: is the folder yours, or is another backup under way?");
        }
        $this->file = $file;
        $this->put(self::FIRST);
        if ($this->passphrase === null) {
            $this->put("open\n");
        } else {
            $salt = random_bytes(SODIUM_CRYPTO_PWHASH_SALTBYTES);
            [$this->state, $header] = sodium_crypto_secretstream_xchacha20poly1305_init_push(self::key($this->passphrase, $salt));
            $this->put("sealed\n$salt$header");
        }
        $this->deflate = deflate_init(ZLIB_ENCODING_RAW, ['level' => 4]) ?: throw new Trouble('zlib does not work here.');
        $this->add('about', (string) json_encode($about));
    }

    public function add(string $name, string $content): void
    {
        $this->open($name);
        $this->piece($content);
        $this->close();
    }

    public function open(string $name): void
    {
        $this->raw(pack('n', strlen($name)).$name);
    }

    /**
     * Some bytes of the part that is open.
     */
    public function piece(string $bytes): void
    {
        foreach ($bytes === '' ? [] : str_split($bytes, self::CHUNK) as $piece) {
            $this->raw(pack('N', strlen($piece)).$piece);
        }
    }

    public function close(): void
    {
        $this->raw(pack('N', 0));
    }

    /**
     * @return int bytes of the file
     */
    public function finish(): int
    {
        $this->raw(pack('n', 0));
        $this->buffer .= deflate_add($this->deflate ?? throw new \LogicException('It was not begun.'), '', ZLIB_FINISH);
        $this->flush(true);
        fflush($this->file ?? throw new \LogicException('It was not begun.'));
        fclose($this->file);
        $this->file = null;
        if (! rename($this->working, $this->path)) {
            throw new Trouble("{$this->path} cannot be written.");
        }

        return (int) filesize($this->path);
    }

    public function discard(): void
    {
        if ($this->file !== null) {
            fclose($this->file);
            $this->file = null;
            @unlink($this->working);
        }
    }

    public static function key(#[\SensitiveParameter] string $passphrase, string $salt): string
    {
        return sodium_crypto_pwhash(
            SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_KEYBYTES, $passphrase, $salt,
            SODIUM_CRYPTO_PWHASH_OPSLIMIT_MODERATE, SODIUM_CRYPTO_PWHASH_MEMLIMIT_INTERACTIVE, SODIUM_CRYPTO_PWHASH_ALG_ARGON2ID13,
        );
    }

    private function raw(string $bytes): void
    {
        $this->buffer .= deflate_add($this->deflate ?? throw new \LogicException('It was not begun.'), $bytes, ZLIB_NO_FLUSH);
        if (strlen($this->buffer) >= self::CHUNK) {
            $this->flush(false);
        }
    }

    private function flush(bool $last): void
    {
        while (strlen($this->buffer) >= self::CHUNK || $last) {
            $piece = substr($this->buffer, 0, self::CHUNK);
            $this->buffer = substr($this->buffer, strlen($piece));
            $isLast = $last && $this->buffer === '';
            if ($this->state === null) {
                $this->put($piece);
            } else {
                $tag = $isLast ? SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_TAG_FINAL : SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_TAG_MESSAGE;
                $sealed = sodium_crypto_secretstream_xchacha20poly1305_push($this->state, $piece, '', $tag);
                $this->put(pack('N', strlen($sealed)).$sealed);
            }
            if ($isLast) {
                return;
            }
        }
    }

    private function put(string $bytes): void
    {
        if ($this->file === null || @fwrite($this->file, $bytes) !== strlen($bytes)) {
            throw new Trouble("The backup cannot be written: the disk of {$this->path} is full.");
        }
    }
}
