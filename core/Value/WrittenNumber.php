<?php

declare(strict_types=1);

namespace DeepSpring\Value;

/**
 * How people write numbers: which mark groups the digits, which stands before the decimals. The
 * `read_as` is the number one thousand two hundred thirty-four and a half, written that way.
 */
final readonly class WrittenNumber
{
    /** read_as → what groups, what stands before the decimals */
    public const FORMS = ['1,234.5' => [',', '.'], '1.234,5' => ['.', ','], '1 234,5' => [" \u{a0}\u{202f}", ','], '1 234.5' => [" \u{a0}\u{202f}", '.'], "1'234.5" => ["'’", '.'], '1234,5' => ['', ',']];

    private function __construct(private string $regex, private string $groups, private string $point, private string $form)
    {
    }

    public static function of(?string $readAs): ?self
    {
        if ($readAs === null || ! isset(self::FORMS[$readAs])) {
            return null;
        }
        [$groups, $point] = self::FORMS[$readAs];
        $whole = $groups === '' ? '\d+' : '(?:\d{1,3}(?:['.preg_quote($groups, '/').']\d{3})+|\d+)';

        return new self("/^[+-]?$whole(?:".preg_quote($point, '/').'\d+)?$/uD', $groups, $point, $readAs);
    }

    /**
     * The same number as JSON would write it.
     */
    public function plain(string $text): string|Unfit
    {
        $text = trim(strtr($text, ['−' => '-']));
        if (preg_match($this->regex, $text) !== 1) {
            return new Unfit($text === '' ? 'an empty string where a number was expected' : "not a number written like {$this->form}");
        }
        $bare = $this->groups === '' ? $text : (string) preg_replace('/['.preg_quote($this->groups, '/').']/u', '', $text);
        $bare = ltrim(str_replace($this->point, '.', $bare), '+');

        return (string) preg_replace('/^(-?)0+(?=\d)/', '$1', $bare);
    }
}
