<?php

declare(strict_types=1);

namespace App\Http\Environments;

use App\Http\Controller;
use App\Models\Environment;
use Illuminate\Http\RedirectResponse;

/**
 * Takes another current environment.
 */
final class EnvironmentController extends Controller
{
    public function __invoke(): RedirectResponse
    {
        $environment = Environment::named($this->text('environment'));
        if ($environment !== null) {
            $this->person()->forceFill(['environment_id' => $environment->id])->save();
        }

        return redirect()->to(url()->previous(route('watershed')));
    }
}
