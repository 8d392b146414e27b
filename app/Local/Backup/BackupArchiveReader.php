<?php

declare(strict_types=1);

namespace App\Local\Backup;

use App\Local\Trouble;

/**
 * A backup as it is read: parts one after the other, each as pieces, never as a whole.
 */
final class BackupArchiveReader
{
    /** @var resource */
    private $file;

    private ?string $state = null;

    private bool $ended = false;

    private string $buffer = '';

    private readonly \InflateContext $inflate;

    /**
     * @throws Trouble
     */
    public function __construct(private readonly string $path, #[\SensitiveParameter] ?string $passphrase)
    {
        $file = @fopen($path, 'r');
        if ($file === false) {
            throw new Trouble("$path cannot be read.");
        }
        $this->file = $file;
        if (fgets($file) !== BackupArchive::FIRST) {
            throw new Trouble("$path is no backup of this application, or of a version that is newer.");
        }
        $kind = trim((string) fgets($file));
        if ($kind === 'sealed') {
            if ($passphrase === null) {
                throw new Trouble('This backup is sealed. Give its passphrase with --passphrase-file, or as SPRING_BACKUP_PASSPHRASE.');
            }
            $salt = $this->exactly(SODIUM_CRYPTO_PWHASH_SALTBYTES);
            $header = $this->exactly(SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_HEADERBYTES);
            $this->state = sodium_crypto_secretstream_xchacha20poly1305_init_pull($header, BackupArchive::key($passphrase, $salt));
        }
        $this->inflate = inflate_init(ZLIB_ENCODING_RAW) ?: throw new Trouble('zlib does not work here.');
    }

    /**
     * @return \Generator<string, \Generator<int, string>> name → its pieces, to be taken before the next name
     */
    public function parts(): \Generator
    {
        while (($length = $this->number('n', 2)) !== 0) {
            $name = $this->take($length);
            $pieces = $this->pieces();
            yield $name => $pieces;
            // What nobody wanted is passed over.
            while ($pieces->valid()) {
                $pieces->next();
            }
        }
    }

    /**
     * @return \Generator<int, string>
     */
    private function pieces(): \Generator
    {
        while (($length = $this->number('N', 4)) !== 0) {
            yield $this->take($length);
        }
    }

    private function number(string $format, int $bytes): int
    {
        return (int) (unpack($format, $this->take($bytes)) ?: [1 => 0])[1];
    }

    private function take(int $bytes): string
    {
        while (strlen($this->buffer) < $bytes) {
            $more = $this->more();
            if ($more === '' && $this->ended) {
                throw $this->damaged();
            }
            $this->buffer .= $more;
        }
        $taken = substr($this->buffer, 0, $bytes);
        $this->buffer = substr($this->buffer, $bytes);

        return $taken;
    }

    private function more(): string
    {
        if ($this->ended) {
            return '';
        }
        if ($this->state === null) {
            $piece = (string) fread($this->file, BackupArchive::CHUNK);
            $this->ended = feof($this->file);
        } else {
            $length = (int) (unpack('N', $this->exactly(4)) ?: [1 => 0])[1];
            if ($length > BackupArchive::CHUNK + SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_ABYTES) {
                throw $this->damaged();
            }
            $opened = sodium_crypto_secretstream_xchacha20poly1305_pull($this->state, $this->exactly($length));
            if ($opened === false) {
                throw new Trouble("The passphrase is not the one that {$this->path} was sealed with, or the file was changed.");
            }
            [$piece, $tag] = $opened;
            $this->ended = $tag === SODIUM_CRYPTO_SECRETSTREAM_XCHACHA20POLY1305_TAG_FINAL;
        }
        $text = @inflate_add($this->inflate, $piece, $this->ended ? ZLIB_FINISH : ZLIB_NO_FLUSH);

        return $text === false ? throw $this->damaged() : $text;
    }

    private function exactly(int $bytes): string
    {
        $read = '';
        while (strlen($read) < $bytes && ! feof($this->file)) {
            $read .= (string) fread($this->file, max(1, $bytes - strlen($read)));
        }

        return strlen($read) === $bytes ? $read : throw $this->damaged();
    }

    private function damaged(): Trouble
    {
        return new Trouble("{$this->path} is damaged, or was cut off.");
    }
}
