<?php

declare(strict_types=1);

namespace App\Imports;

use App\Transport\Limits;
use App\Transport\Transport;
use DeepSpring\Access\SecretMask;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Docs\HtmlText;
use GuzzleHttp\Psr7\Request;
use Illuminate\Support\Carbon;

/**
 * A page of a provider's documentation, as it is kept in the file of a source: fetched through the same guard
 * as every request, or pasted.
 */
final readonly class DocumentationPage
{
    private const SECONDS = 30;

    /** Bytes of a page as it is fetched. */
    private const BYTES = 8 << 20;

    /** Characters of a page as it is kept. */
    private const KEPT = 300_000;

    public function __construct(private Transport $transport)
    {
    }

    /**
     * @return array{title: string, url: string, kept: string, text: string}
     *
     * @throws CannotDescribe when nothing can be had there
     */
    public function fetched(string $address): array
    {
        try {
            $sent = $this->transport->send(new Request('GET', $address, ['accept' => 'text/html, text/markdown, text/plain;q=0.8']), new Limits(self::SECONDS, 1, self::BYTES, true), new SecretMask([]));
        } catch (\InvalidArgumentException $invalid) {
            throw CannotDescribe::because("\"$address\" is no address: {$invalid->getMessage()}");
        }
        if ($sent->failing !== null) {
            throw CannotDescribe::because("$address cannot be fetched: ".rtrim($sent->detail, '.').'.');
        }
        if ($sent->status !== 200) {
            throw CannotDescribe::because("$address answered {$sent->status}. Paste the page instead.");
        }

        return ['url' => $address] + $this->pasted($sent->body, '', (string) $sent->request->getUri());
    }

    /**
     * @return array{title: string, kept: string, text: string}
     *
     * @throws CannotDescribe when nothing is left of it
     */
    public function pasted(string $text, string $title = '', string $address = ''): array
    {
        $text = mb_scrub($text, 'UTF-8');
        $page = HtmlText::isHtml($text) ? HtmlText::of($text, $address) : ['title' => '', 'text' => trim(str_replace("\r", '', $text))];
        if ($page['text'] === '') {
            throw CannotDescribe::because('There is no text on that page. One that is put together in the browser is best pasted from there.');
        }
        $first = trim((string) preg_replace('/^#+\s*/', '', (string) strtok($page['text'], "\n")));

        return ['title' => mb_substr($title !== '' ? $title : ($page['title'] !== '' ? $page['title'] : ($first !== '' ? $first : 'A page')), 0, 190), 'kept' => Carbon::now('UTC')->format('Y-m-d\TH:i:s\Z'), 'text' => mb_substr($page['text'], 0, self::KEPT)];
    }
}
